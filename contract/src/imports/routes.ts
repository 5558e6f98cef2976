import { importId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import {
  chooseImportRows,
  confirmImport,
  importList,
  importPreview,
  remapImport,
  uploadImport,
} from './schemas';

export const importsRoutes = {
  uploadImport: {
    access: 'rep',
    perHour: 60,
    summary: 'Judge a CSV, XLSX or vCard file without writing',
    body: uploadImport,
    reply: importPreview,
  },
  getImport: {
    access: 'rep',
    summary: 'A judged file and its progress',
    params: byId.extend({ id: importId }),
    reply: importPreview,
  },
  remapImport: {
    access: 'rep',
    summary: 'Correct the columns, the kind, the sheet or how days and numbers are written, and judge again',
    params: byId.extend({ id: importId }),
    body: remapImport,
    reply: importPreview,
  },
  chooseImportRows: {
    access: 'rep',
    summary: 'Say what happens to rows that are likely ones that are here',
    params: byId.extend({ id: importId }),
    body: chooseImportRows,
    reply: importPreview,
  },
  confirmImport: {
    access: 'rep',
    summary: 'Write what was judged',
    params: byId.extend({ id: importId }),
    body: confirmImport,
    reply: importPreview,
  },
  retryImport: {
    access: 'rep',
    summary: 'Try the parts of an import again that failed for good',
    params: byId.extend({ id: importId }),
    reply: importPreview,
  },
  listImports: { access: 'rep', summary: 'Files that were imported, newest first', reply: importList },
  undoImport: {
    access: 'rep',
    summary: 'Delete what an import wrote, for 30 days; who was changed since stays',
    params: byId.extend({ id: importId }),
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
