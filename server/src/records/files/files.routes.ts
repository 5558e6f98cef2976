import type { FileId, StoredFile } from '@kettle/contract';
import { mostFileBytes } from '@kettle/contract';
import type { Request } from 'express';
import type { Database, Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import type { Call, Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull, newId, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { writeSystemEntry } from '../entries/index';
import { type SignedIn } from '../users/index';
import { assertMayChange } from '../rights/index';
import { assertMayRelease } from '../wordings/index';
import { isProgramByBytes, isProgramByName } from './programs';
import { assertRoom } from './room';
import { isShown, mediaTypeOf } from './media-types';
import { type PersonWork, work } from '../../platform/work/work';
import type { Row, Tables } from '../../platform/database/schema.generated';

type Names = 'uploadFile' | 'listFiles' | 'getFile' | 'removeFile' | 'restoreFile';

const partBytes = 1024 * 1024;

interface FileRow extends Row<
  'stored_file',
  | 'id'
  | 'name'
  | 'media_type'
  | 'size'
  | 'created_at'
  | 'contact_id'
  | 'company_id'
  | 'deal_id'
  | 'agreement_id'
  | 'template_id'
  | 'removed_at'
> {
  user_name: Tables['app_user']['name'];
}

const select = `SELECT f.id, f.name, f.media_type, f.size, u.name AS user_name, f.created_at, f.contact_id, f.company_id,
    f.deal_id, f.agreement_id, f.template_id, f.removed_at FROM stored_file f JOIN app_user u ON u.id = f.user_id`;

function fileOf(row: FileRow): StoredFile {
  return {
    id: idOf(row.id),
    name: row.name,
    mediaType: row.media_type,
    size: row.size,
    canPreview: isShown(row.media_type),
    userName: row.user_name,
    at: instantOf(row.created_at),
  };
}

interface Subject {
  readonly contactId?: string | undefined;
  readonly companyId?: string | undefined;
  readonly dealId?: string | undefined;
  readonly agreementId?: string | undefined;
  readonly templateId?: string | undefined;
}

export function filesRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock } = services;

  const readFile = async (id: string): Promise<FileRow> => {
    const [row] = await database.rows<FileRow>(`${select} WHERE f.id = :id AND f.is_complete`, {
      id: bytesOf(id),
    });
    if (!row) throw new Problem('not-found');
    return row;
  };
  const setRemoved = async (who: SignedIn, id: string, isRemoved: boolean) => {
    const row = await readFile(id);
    await work(services, who, async (w) => {
      const subject = subjectOf(row);
      await assertMayChange(w, who, await readOwner(w, subject));
      if (subject.templateId !== undefined) await assertMayRelease(services, who);
      const now = clock.now();
      await w.change('UPDATE stored_file SET removed_at = :removed WHERE id = :id', {
        id: bytesOf(id),
        removed: isRemoved ? sqlInstant(now) : null,
      });
      await tellJournal(
        w,
        subject,
        isRemoved
          ? $localize`File taken away: ${row.name}:name:`
          : $localize`File brought back: ${row.name}:name:`,
      );
    });
    return { ok: true } as const;
  };

  return {
    listFiles: async ({ query }) => {
      const [column, id] = keyOf(query);
      const rows = await database.rows<FileRow>(
        `${select} WHERE f.${column} = :id AND f.is_complete AND f.removed_at IS NULL
          ORDER BY f.created_at DESC, f.id DESC LIMIT 200`,
        { id: bytesOf(id) },
      );
      return { files: rows.map(fileOf) };
    },
    uploadFile: async ({ query, who, request }) => {
      await assertMayChange(database, who, await readOwner(database, query));
      if (query.templateId !== undefined) await assertMayRelease(services, who);
      if (isProgramByName(query.name)) throw new Problem('program-refused');
      await assertRoom(database, who.id);
      const id = newId<FileId>();
      const now = clock.now();
      const mediaType = mediaTypeOf(query.name);
      await database.change(
        `INSERT INTO stored_file (id, name, media_type, size, contact_id, company_id, deal_id, agreement_id, template_id, user_id, created_at)
         VALUES (:id, :name, :mediaType, 0, :contact, :company, :deal, :agreement, :template, :user, :now)`,
        {
          id: bytesOf(id),
          name: query.name,
          mediaType,
          contact: bytesOf(query.contactId),
          company: bytesOf(query.companyId),
          deal: bytesOf(query.dealId),
          agreement: bytesOf(query.agreementId),
          template: bytesOf(query.templateId),
          user: bytesOf(who.id),
          now: sqlInstant(now),
        },
      );
      // A file is there only once all of its parts are; what an interrupted one left is swept away.
      const size = await writeParts(database, id, request).catch(async (error: unknown) => {
        await database.change('DELETE FROM stored_file WHERE id = :id', { id: bytesOf(id) });
        throw error;
      });
      await work(services, who, async (w) => {
        await w.change('UPDATE stored_file SET size = :size, is_complete = TRUE WHERE id = :id', {
          id: bytesOf(id),
          size,
        });
        await tellJournal(w, query, $localize`File added: ${query.name}:name:`);
      });
      return fileOf(await readFile(id));
    },
    getFile: async (call) => {
      const row = await readFile(call.params.id);
      if (row.removed_at !== null && call.who.role === 'rep') throw new Problem('not-found');
      return sendFile(database, row, call);
    },
    removeFile: ({ who, params }) => setRemoved(who, params.id, true),
    restoreFile: ({ who, params }) => setRemoved(who, params.id, false),
  };
}

type KeyColumn = 'contact_id' | 'company_id' | 'deal_id' | 'agreement_id' | 'template_id';

function keyOf(about: Subject): [KeyColumn, string | null] {
  if (about.contactId !== undefined) return ['contact_id', about.contactId];
  if (about.companyId !== undefined) return ['company_id', about.companyId];
  if (about.templateId !== undefined) return ['template_id', about.templateId];
  if (about.agreementId !== undefined) return ['agreement_id', about.agreementId];
  return ['deal_id', about.dealId ?? null];
}

function subjectOf(row: FileRow): Subject {
  return {
    contactId: idOrNull<string>(row.contact_id) ?? undefined,
    companyId: idOrNull<string>(row.company_id) ?? undefined,
    dealId: idOrNull<string>(row.deal_id) ?? undefined,
    agreementId: idOrNull<string>(row.agreement_id) ?? undefined,
    templateId: idOrNull<string>(row.template_id) ?? undefined,
  };
}

/** @throws Problem `not-found` when what the file is to belong to is not here */
async function readOwner(db: Queryable, about: Subject): Promise<string | null> {
  const [column, id] = keyOf(about);
  const [row] = await db.rows<{ owner_id: IdBytes | null }>(
    // Templates belong to everybody.
    `SELECT ${column === 'template_id' ? 'NULL AS owner_id' : 'owner_id'} FROM ${column.slice(0, -3)} WHERE id = :id`,
    { id: bytesOf(id) },
  );
  if (!row) throw new Problem('not-found');
  return idOrNull<string>(row.owner_id);
}

async function tellJournal(w: PersonWork, about: Subject, body: string): Promise<void> {
  if (about.templateId !== undefined) return w.note('template', about.templateId);
  if (about.agreementId !== undefined) return tellOfAgreement(w, about.agreementId, body);
  await writeSystemEntry(w, {
    body,
    userId: w.who.id,
    contactId: about.contactId ?? null,
    companyId: about.companyId ?? null,
    dealId: about.dealId ?? null,
  });
}

async function tellOfAgreement(w: PersonWork, id: string, body: string): Promise<void> {
  const [row] = await w.rows<Row<'agreement', 'contact_id' | 'company_id'>>(
    'SELECT contact_id, company_id FROM agreement WHERE id = :id',
    { id: bytesOf(id) },
  );
  await writeSystemEntry(w, {
    ...{ body, userId: w.who.id, dealId: null },
    contactId: idOrNull<string>(row!.contact_id),
    companyId: idOrNull<string>(row!.company_id),
  });
}

/** Streams the request's bytes into parts of a megabyte; never holds more than one of them. @throws Problem `too-large`, `program-refused` */
async function writeParts(db: Queryable, id: FileId, request: Request): Promise<number> {
  let size = 0;
  let number = 0;
  let waiting: Buffer[] = [];
  let waitingBytes = 0;
  const flush = async () => {
    if (waitingBytes === 0) return;
    await db.change('INSERT INTO file_part (file_id, number, bytes) VALUES (:id, :number, :bytes)', {
      id: bytesOf(id),
      number,
      bytes: Buffer.concat(waiting),
    });
    number += 1;
    waiting = [];
    waitingBytes = 0;
  };
  for await (const chunk of request as AsyncIterable<Buffer>) {
    if (size === 0 && isProgramByBytes(chunk)) throw new Problem('program-refused');
    size += chunk.length;
    if (size > mostFileBytes) throw new Problem('too-large', { limit: '25 MB' });
    waiting.push(chunk);
    waitingBytes += chunk.length;
    if (waitingBytes >= partBytes) await flush();
  }
  await flush();
  if (size === 0)
    throw new Problem('invalid-request', {}, { fields: [{ path: 'file', message: $localize`is empty` }] });
  return size;
}

/** Nothing in the answer may load or run. The browser's own viewer of PDF, which runs apart from us, refuses to start in a sandbox. */
function policyOf(mediaType: string): string {
  const nothing = "default-src 'none'; style-src 'unsafe-inline'";
  return mediaType === 'application/pdf' ? `${nothing}; object-src 'self'` : `${nothing}; sandbox`;
}

/**
 * Sends a file so that it can never act as a page of ours: as a download, or, for pictures and PDF alone, shown under a
 * policy that lets nothing in it run.
 */
async function sendFile(
  db: Database,
  row: FileRow,
  { query, response }: Call<'getFile'>,
): Promise<'answered'> {
  const isPreview = query.preview === 'yes' && isShown(row.media_type);
  response.set({
    'Content-Type': isPreview ? row.media_type : 'application/octet-stream',
    'Content-Length': String(row.size),
    'Content-Disposition': `${isPreview ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(row.name)}`,
    'Content-Security-Policy': policyOf(isPreview ? row.media_type : ''),
    'X-Content-Type-Options': 'nosniff',
    'Cross-Origin-Resource-Policy': 'same-origin',
    'Cache-Control': 'private, no-store',
  });
  for (let number = 0; ; number += 1) {
    const [part] = await db.rows<Row<'file_part', 'bytes'>>(
      'SELECT bytes FROM file_part WHERE file_id = :id AND number = :number',
      { id: row.id, number },
    );
    if (!part) break;
    if (!response.write(part.bytes)) await new Promise((resolve) => response.once('drain', resolve));
  }
  response.end();
  return 'answered';
}
