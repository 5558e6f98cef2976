import * as z from 'zod';
import { customFieldId } from '../base/ids';
import { byId, type RouteSpec } from '../base/route';
import { changeCustomField, createCustomField, customField, customSubject } from './schemas';

export const fieldsRoutes = {
  listCustomFields: {
    access: 'rep',
    summary: 'Fields an admin defined',
    query: z.object({ subject: customSubject.optional(), retired: z.enum(['yes']).optional() }),
    reply: z.object({ fields: z.array(customField) }),
  },
  wordsInUse: {
    access: 'rep',
    summary: 'Sources or campaigns in use, the most used first',
    query: z.object({ field: z.enum(['source', 'campaign']) }),
    reply: z.object({ words: z.array(z.string()) }),
  },
  createCustomField: {
    access: 'admin',
    summary: 'Define a field',
    body: createCustomField,
    reply: customField,
  },
  changeCustomField: {
    access: 'admin',
    summary: 'Rename, retire or bring back a field',
    params: byId.extend({ id: customFieldId }),
    body: changeCustomField,
    reply: customField,
  },
} as const satisfies Record<string, RouteSpec>;
