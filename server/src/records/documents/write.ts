import { createRequire } from 'node:module';
import path from 'node:path';
import type { TDocumentDefinitions } from 'pdfmake/interfaces';
import type { HeavyTasks } from '../../platform/heavy';
import type { Services } from '../../platform/services';
import { ink } from './look';
import type { Sheet, SheetCell } from './sheet';

/** Pages as plain data: it goes to another thread, so that nothing in it is a function. */
export interface PdfDocument {
  readonly title: string;
  /** Language of its words, as a tag. */
  readonly language: string;
  /** When it was made: the same document is the same bytes. */
  readonly madeAt: string;
  /** Said at the foot of each page, before its number. */
  readonly foot: string;
  /** How the page's number and the last are said. @example 'Page {page} of {pages}' */
  readonly pageWords: string;
  readonly look: Partial<TDocumentDefinitions>;
  readonly content: TDocumentDefinitions['content'];
}

const fontFolder = () =>
  path.dirname(
    createRequire(path.join(import.meta.dirname ?? __dirname, 'here.js')).resolve(
      '@expo-google-fonts/hanken-grotesk/package.json',
    ),
  );

/** Lines of a table of ours, by the name under which a page asks for them. */
const hairlines = {
  hLineWidth: (at: number, { table }: { table: { body: unknown[] } }) =>
    at === 0 || at === table.body.length ? 0 : 0.5,
  vLineWidth: () => 0,
  hLineColor: () => ink.hairline,
  paddingLeft: (at: number) => (at === 0 ? 0 : 8),
  paddingRight: () => 0,
  paddingTop: () => 2,
  paddingBottom: () => 1,
};

async function pdfOf({
  title,
  language,
  madeAt,
  foot,
  pageWords,
  look,
  content,
}: PdfDocument): Promise<Buffer> {
  const { default: pdfmake } = await import('pdfmake');
  const folder = fontFolder();
  const cut = (name: string) => path.join(folder, name, `HankenGrotesk_${name}.ttf`);
  pdfmake.setFonts({
    Ours: {
      normal: cut('400Regular'),
      bold: cut('600SemiBold'),
      italics: cut('400Regular_Italic'),
      bolditalics: cut('600SemiBold_Italic'),
    },
  });
  pdfmake.setTableLayouts({ hairlines });
  // Nothing is fetched, and no file is read but the fonts.
  pdfmake.setUrlAccessPolicy(() => false);
  pdfmake.setLocalAccessPolicy((file) => path.resolve(file).startsWith(folder));
  const buffer = await pdfmake
    .createPdf({
      ...look,
      language,
      info: { title, creator: 'Ash Kettle', producer: 'Ash Kettle', creationDate: new Date(madeAt) },
      displayTitle: true,
      footer: (page: number, pages: number) => ({
        columns: [
          { text: foot, color: ink.soft, fontSize: 8 },
          {
            text: pageWords.replace('{page}', String(page)).replace('{pages}', String(pages)),
            ...{ alignment: 'right', color: ink.soft, fontSize: 8 },
          },
        ],
        margin: [51, 16, 51, 0],
      }),
      content,
    } as TDocumentDefinitions)
    .getBuffer();
  return Buffer.from(buffer);
}

const cellOf = (cell: SheetCell, format: string | undefined) => {
  if (cell === null) return null;
  switch (cell.kind) {
    case 'text':
      // A cell holds at most so many characters (ECMA-376, as programs keep it).
      return { type: String, value: cell.value.slice(0, 32_767) };
    case 'number': {
      const form = cell.format ?? format;
      return { type: Number, value: cell.value, ...(form !== undefined && { format: form }) };
    }
    case 'day':
      return { type: Date, value: new Date(`${cell.value}T00:00:00Z`), format: 'yyyy-mm-dd' };
    case 'instant':
      return { type: Date, value: new Date(cell.value), format: 'yyyy-mm-dd hh:mm' };
  }
};

async function xlsxOf({ name, columns, rows }: Sheet): Promise<Buffer> {
  const { default: writeXlsxFile } = await import('write-excel-file/node');
  const data = [
    columns.map(({ head }) => ({ type: String, value: head, fontWeight: 'bold' as const })),
    ...rows.map((row) => row.map((cell, at) => cellOf(cell, columns[at]?.format))),
  ];
  return writeXlsxFile(data as never, {
    // What a sheet may be called (ECMA-376): 31 characters, none of these.
    sheet: name.replace(/[\\/?*[\]:]/g, ' ').slice(0, 31),
    columns: columns.map(({ width }) => ({ width })),
    stickyRowsCount: 1,
  }).toBuffer();
}

const names = { pdf: 'write-pdf', sheet: 'write-sheet' } as const;

/** Both are computed from beginning to end without a pause: beside the thread that answers. */
export const documentTasks: HeavyTasks = {
  [names.pdf]: (_services, input) => pdfOf(input as PdfDocument),
  [names.sheet]: (_services, input) => xlsxOf(input as Sheet),
};

/** Pages as PDF, with their fonts in it. */
export const writePdf = async (services: Services, document: PdfDocument): Promise<Buffer> =>
  bytes(await services.heavy.run(names.pdf, document));

/** A workbook (ECMA-376) of one sheet, its cells typed. */
export const writeSheet = async (services: Services, sheet: Sheet): Promise<Buffer> =>
  bytes(await services.heavy.run(names.sheet, sheet));

/** Bytes lose their kind on the way between threads. */
const bytes = (found: unknown): Buffer => Buffer.from(found as Uint8Array);
