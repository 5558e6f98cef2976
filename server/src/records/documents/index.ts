export { documentsFeature } from './feature';
export { writePdf, writeSheet, type PdfDocument } from './write';
export { lookOfPages, ink } from './look';
export { type Sheet, type SheetCell, type SheetColumn } from './sheet';
export { partiesOf, pricedLines, sumsTable } from './priced';
