import sanitize from 'sanitize-html';

const most = 20_000;

/** Rich text as the journal keeps it: paragraphs, lists, quotes, strong, emphasised, links to the web; nothing that runs. */
export function cleanRichText(html: string): string {
  const clean = sanitize(html.slice(0, most), {
    allowedTags: ['p', 'br', 'strong', 'em', 'u', 's', 'ul', 'ol', 'li', 'blockquote', 'a', 'h3', 'code'],
    allowedAttributes: { a: ['href'] },
    allowedSchemes: ['http', 'https', 'mailto', 'tel'],
    transformTags: { b: 'strong', i: 'em', h1: 'h3', h2: 'h3' },
  });
  return sanitize(clean, { allowedTags: [], allowedAttributes: {} }).trim() === '' ? '' : clean;
}
