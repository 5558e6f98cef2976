import type { ImportId } from '@kettle/contract';
import type { Handlers } from '../../platform/http/bind-routes';
import { newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { requestContext } from '../../platform/work/request';
import { changeMapping, chooseImportRows } from './change-mapping';
import { confirmImport, retryImport } from './confirm-import';
import { listImports } from './list-imports';
import { takeImportTask, type GivenFile } from './read-import';
import { readOwnImport, readPreview } from './read-preview';
import { undoImport } from './undo-import';

type Names =
  | 'uploadImport'
  | 'getImport'
  | 'remapImport'
  | 'chooseImportRows'
  | 'confirmImport'
  | 'retryImport'
  | 'listImports'
  | 'undoImport';

export function importsRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock } = services;
  return {
    uploadImport: async ({ body, who }) => {
      // Sent again, it is the same import.
      const id = (requestContext.getStore()?.changeId as ImportId | null | undefined) ?? newId<ImportId>();
      const file: GivenFile = { id, userId: who.id, ...body, at: clock.now() };
      await services.heavy.run(takeImportTask, file);
      return readPreview(services, id);
    },
    getImport: async ({ params, who }) =>
      readPreview(services, (await readOwnImport(database, params.id, who)).id),
    remapImport: async ({ params, body, who }) => {
      await changeMapping(services, who, params.id, body);
      return readPreview(services, params.id);
    },
    chooseImportRows: async ({ params, body, who }) => {
      await chooseImportRows(services, who, params.id, body);
      return readPreview(services, params.id);
    },
    confirmImport: async ({ params, body, who }) => {
      await confirmImport(services, who, params.id, body);
      return readPreview(services, params.id);
    },
    retryImport: async ({ params, who }) => {
      await retryImport(services, who, params.id);
      return readPreview(services, params.id);
    },
    listImports: async ({ who }) => ({ imports: await listImports(database, who, clock.now()) }),
    undoImport: async ({ params, who }) => {
      await undoImport(services, who, params.id);
      return { ok: true };
    },
  };
}
