const entities: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};

/** Text as it may stand in an element or in a quoted attribute: `a<b` becomes `a&lt;b`. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (letter) => entities[letter]!);
}
