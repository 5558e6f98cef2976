import { spawnSync } from 'node:child_process';
import path from 'node:path';

export interface PdfRead {
  readonly pages: number;
  readonly text: string;
  /** Of the fonts in it; one that is cut down to the letters used begins with six capitals and a plus. */
  readonly fonts: readonly string[];
}

/** Reads a PDF with another library than the one that writes ours; in a process of its own, as Jest cannot load it. */
export function readPdf(bytes: Uint8Array): PdfRead {
  const script = path.join(import.meta.dirname ?? __dirname, 'pdf-reader.mjs');
  const { status, stdout, stderr } = spawnSync(process.execPath, [script], { input: bytes });
  if (status !== 0) throw new Error(`not a PDF: ${stderr.toString()}`);
  return JSON.parse(stdout.toString()) as PdfRead;
}
