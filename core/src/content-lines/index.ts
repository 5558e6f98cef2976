const halves = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;
// eslint-disable-next-line no-control-regex -- these are what is taken out
const controls = /[\u0000-\u0008\u000b-\u001f\u007f]/g;

/** Without what no text of a calendar or a card may hold: control characters but tab and the end of a line, and halves of a character. */
export const plain = (text: string): string =>
  text.replaceAll('\r\n', '\n').replace(halves, '').replace(controls, '');

const mostOctets = 75;
const encoder = new TextEncoder();

/** Content lines (RFC 5545, 3.1; RFC 6350, 3.2) folded by octets, never inside a character; what their writer folded is unfolded first. */
export function folded(text: string): string {
  return (
    text
      .replaceAll(/\r?\n[ \t]/g, '')
      .split(/\r?\n/)
      .filter((line) => line !== '')
      .map(foldedLine)
      .join('\r\n') + '\r\n'
  );
}

function foldedLine(line: string): string {
  const parts: string[] = [];
  let part = '';
  let octets = 0;
  for (const letter of line) {
    const length = encoder.encode(letter).length;
    // Of every line but the first one octet is the space it begins with.
    if (octets + length > mostOctets - (parts.length === 0 ? 0 : 1)) {
      parts.push(part);
      [part, octets] = ['', 0];
    }
    part += letter;
    octets += length;
  }
  return [...parts, part].join('\r\n ');
}
