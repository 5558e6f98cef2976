import type { TDocumentDefinitions } from 'pdfmake/interfaces';

/** Our inks on paper: text, what stands back, hairlines, what needs somebody, and links. */
export const ink = {
  text: '#24211D',
  soft: '#675F55',
  hairline: '#DDD7CC',
  band: '#EFEBE4',
  accent: '#A8481F',
  link: '#1F5F66',
} as const;

/** Points of a millimetre. */
const mm = 72 / 25.4;

/** What every page of ours has: A4, our type and inks. */
export const lookOfPages: Partial<TDocumentDefinitions> = {
  pageSize: 'A4',
  pageMargins: [18 * mm, 18 * mm, 18 * mm, 20 * mm],
  defaultStyle: { font: 'Ours', fontSize: 9, lineHeight: 1.25, color: ink.text },
  styles: {
    title: { fontSize: 16, bold: true },
    head: { fontSize: 11, bold: true, margin: [0, 10, 0, 4] },
    soft: { color: ink.soft },
    heads: { color: ink.soft, fontSize: 8 },
    figure: { fontSize: 14, bold: true },
  },
};
