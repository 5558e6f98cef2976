// Reads a PDF from standard input and tells as JSON how many pages it has, what they say, and which fonts are in it.
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';

const chunks = [];
for await (const chunk of process.stdin) chunks.push(chunk);
const bytes = Buffer.concat(chunks);
const document = await getDocument({ data: new Uint8Array(bytes), verbosity: 0 }).promise;
const said = [];
for (let at = 1; at <= document.numPages; at += 1) {
  const { items } = await (await document.getPage(at)).getTextContent();
  said.push(items.map((item) => item.str ?? '').join(' '));
}
const fonts = [...new Set(bytes.toString('latin1').match(/(?<=\/BaseFont \/)[\w+-]+/g) ?? [])];
process.stdout.write(
  JSON.stringify({ pages: document.numPages, text: said.join('\n').replace(/\s+/g, ' '), fonts }),
);
