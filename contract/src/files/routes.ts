import * as z from 'zod';
import { fileId } from '../base/ids';
import { byId, nothing, ok, type RouteSpec } from '../base/route';
import { fileSubject, storedFile, uploadFile } from './schemas';

export const filesRoutes = {
  uploadFile: {
    access: 'rep',
    perHour: 300,
    summary: 'Keep a file (its bytes are the body)',
    query: uploadFile,
    reply: storedFile,
  },
  listFiles: {
    access: 'rep',
    summary: 'Files of a contact, company or deal',
    query: fileSubject,
    reply: z.object({ files: z.array(storedFile) }),
  },
  getFile: {
    access: 'rep',
    summary: 'The bytes of a file',
    params: byId.extend({ id: fileId }),
    query: z.object({ preview: z.enum(['yes']).optional() }),
    reply: nothing,
  },
  removeFile: { access: 'rep', summary: 'Take a file away', params: byId.extend({ id: fileId }), reply: ok },
  restoreFile: {
    access: 'rep',
    summary: 'Bring a file back',
    params: byId.extend({ id: fileId }),
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
