import { differencesOf } from '@kettle/core/fields';
import { localDate } from '@kettle/core/time';
import { sayCount } from '@kettle/core/locale';
import type { DealId, GiveRecords, givenRecords, UserId } from '@kettle/contract';
import type * as z from 'zod';
import type { Row } from '../../platform/database/schema.generated';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';
import { writeSystemEntry } from '../../records/entries/index';
import { notify } from '../../records/notifications/index';
import { readAt, readPerson } from '../../records/users/index';
import { changeDeal, readDealRowsOf } from '../deals/index';
import { changeLead } from '../leads/index';

interface Given {
  readonly table: 'sales_lead' | 'deal' | 'task' | 'company' | 'agreement';
  readonly one: string;
  readonly many: string;
  readonly path: string;
  /** What can still be given: what is closed, finished or over stays whose it was. */
  readonly isOpen: string;
}

const kinds: Readonly<Record<GiveRecords['kind'], Given>> = {
  lead: {
    table: 'sales_lead',
    one: 'lead',
    many: 'leads',
    path: '/deals/leads',
    isOpen: 'r.archived_at IS NULL',
  },
  deal: { table: 'deal', one: 'deal', many: 'deals', path: '/deals', isOpen: "r.status = 'open'" },
  task: { table: 'task', one: 'task', many: 'tasks', path: '/tasks', isOpen: "r.state = 'open'" },
  company: {
    table: 'company',
    one: 'company',
    many: 'companies',
    path: '/people/companies',
    isOpen: 'r.archived_at IS NULL',
  },
  agreement: {
    table: 'agreement',
    one: 'agreement',
    many: 'agreements',
    path: '/renewals',
    isOpen: "r.archived_at IS NULL AND r.state <> 'ended'",
  },
};

/**
 * Gives records to one colleague in one change, which is undone as one. What is theirs already or closed stays as it is; each is changed as
 * if it had been changed by hand, so that its person and its planned steps go with it.
 */
export async function giveRecords(w: PersonWork, asked: GiveRecords): Promise<z.output<typeof givenRecords>> {
  if (asked.kind === 'lead' && asked.alsoTo.length > 0) return shareOut(w, asked);
  const { table, one, many, path, isOpen } = kinds[asked.kind];
  const owner = asked.ownerId === null ? null : await readPerson(w, asked.ownerId);
  const rows = await w.rows<{ id: IdBytes; version: number }>(
    `SELECT r.id, r.version FROM ${table} r
      WHERE r.id IN (:ids) AND ${isOpen} AND NOT (r.owner_id <=> :owner) ORDER BY r.id FOR UPDATE`,
    {
      ids: asked.ids.map((id) => bytesOf(id)),
      owner: bytesOf(asked.ownerId),
      today: localDate(w.now, w.who.zone),
    },
  );
  for (const { id, version } of rows) await give(w, asked, { id, version }, owner?.name ?? $localize`nobody`);
  const words = sayCount(rows.length, `${one}|${many}`);
  w.say($localize`${words}:words: given to ${owner?.name ?? $localize`the pool`}:name:`);
  // With a lead its person goes, of which the new owner is told.
  if (owner !== null && owner.id !== w.who.id && rows.length > 0 && asked.kind !== 'lead')
    await notify(w, 'given', [owner.id], $localize`${w.who.name}:name: gave you ${words}:words:`, path);
  await w.derive();
  return { given: rows.length, left: asked.ids.length - rows.length };
}

type LeadsGiven = Extract<GiveRecords, { readonly kind: 'lead' }>;

/**
 * Shares leads out among several in their order, one after the other, so that none gets two more than another. What lands with whoever has it
 * already stays as it is.
 */
async function shareOut(w: PersonWork, asked: LeadsGiven): Promise<z.output<typeof givenRecords>> {
  if (asked.ownerId === null) {
    const fields = [{ path: 'ownerId', message: $localize`must be somebody where leads are shared out` }];
    throw new Problem('invalid-request', {}, { fields });
  }
  const ownerIds = [...new Set([asked.ownerId, ...asked.alsoTo])];
  const owners = [];
  for (const id of ownerIds) owners.push(await readPerson(w, id));
  const rows = await w.rows<Row<'sales_lead', 'id' | 'version' | 'owner_id'>>(
    `SELECT r.id, r.version, r.owner_id FROM sales_lead r WHERE r.id IN (:ids) AND ${kinds.lead.isOpen} ORDER BY r.id FOR UPDATE`,
    { ids: asked.ids.map((id) => bytesOf(id)) },
  );
  const byId = new Map(rows.map((row) => [idOf<string>(row.id), row]));
  const open = [...new Set(asked.ids)].flatMap((id) => byId.get(id) ?? []);
  let given = 0;
  for (const [at, { id, version, owner_id: had }] of open.entries()) {
    const ownerId = ownerIds[at % ownerIds.length]!;
    if (had !== null && idOf(had) === ownerId) continue;
    await changeLead(w, idOf(id), { version, ownerId });
    given += 1;
  }
  const words = sayCount(given, $localize`lead|leads`);
  w.say($localize`${words}:words: shared out among ${owners.map(({ name }) => name).join(', ')}:names:`);
  await w.derive();
  return { given, left: asked.ids.length - given };
}

async function give(
  w: PersonWork,
  asked: GiveRecords,
  { id, version }: { readonly id: IdBytes; readonly version: number },
  ownerName: string,
): Promise<void> {
  if (asked.kind === 'lead') return changeLead(w, idOf(id), { version, ownerId: asked.ownerId });
  if (asked.kind === 'deal') return giveDeal(w, { id: id as IdBytes<DealId>, version }, asked.ownerId);
  const { table } = kinds[asked.kind];
  const about = asked.kind === 'task' ? null : await aboutOf(w, asked.kind, id);
  await w.change(`UPDATE ${table} SET owner_id = :owner, version = version + 1 WHERE id = :id`, {
    id,
    owner: bytesOf(asked.ownerId),
  });
  if (about === null) return;
  const { ownerWas, ownerHad, what, ...where } = about;
  const [change = ''] = differencesOf(
    [[$localize`Owner`, ownerWas ?? $localize`nobody`]],
    [[$localize`Owner`, ownerName]],
  );
  if (asked.kind === 'agreement') await giveRenewal(w, id, asked.ownerId, ownerHad);
  await writeSystemEntry(w, {
    ...where,
    body: what === null ? change : $localize`Agreement “${what}:what:”: ${change}:change:`,
    userId: w.who.id,
  });
}

/** With an agreement goes the talk about its next term, where that is under way and was its owner's. */
async function giveRenewal(
  w: PersonWork,
  agreement: IdBytes,
  ownerId: UserId,
  ownerHad: IdBytes | null,
): Promise<void> {
  const open = await w.rows<Row<'deal', 'id' | 'version'>>(
    `SELECT d.id, d.version FROM deal d
      WHERE d.id IN (SELECT renewal_deal_id FROM agreement_term WHERE agreement_id = :agreement)
        AND d.status = 'open' AND d.owner_id = :had AND d.owner_id <> :owner ORDER BY d.id FOR UPDATE`,
    { agreement, had: ownerHad, owner: bytesOf(ownerId) },
  );
  for (const { id, version } of open) await giveDeal(w, { id, version }, ownerId);
}

async function giveDeal(
  w: PersonWork,
  { id, version }: Pick<Row<'deal', 'id' | 'version'>, 'id' | 'version'>,
  ownerId: UserId,
): Promise<void> {
  const [deal] = await readDealRowsOf(w, [id], readAt(w.services, w.who));
  const { name, stageId, amountMinor, expectedCloseOn } = deal!;
  await changeDeal(w, idOf(id), {
    ...{ version, name, stageId, amountMinor, expectedCloseOn },
    ...{ ownerId, tick: [] },
  });
}

/** Where a journal tells of a new owner, and who it was before. */
async function aboutOf(w: PersonWork, kind: 'company' | 'agreement', id: IdBytes) {
  const [row] = await w.rows<{
    contact_id: IdBytes | null;
    company_id: IdBytes | null;
    what: string | null;
    owner: string | null;
    owner_id: IdBytes | null;
  }>(
    kind === 'company'
      ? `SELECT NULL AS contact_id, r.id AS company_id, NULL AS what, u.name AS owner, r.owner_id
           FROM company r LEFT JOIN app_user u ON u.id = r.owner_id WHERE r.id = :id`
      : `SELECT r.contact_id, r.company_id, r.name AS what, u.name AS owner, r.owner_id
           FROM agreement r LEFT JOIN app_user u ON u.id = r.owner_id WHERE r.id = :id`,
    { id },
  );
  return {
    contactId: idOrNull<string>(row!.contact_id),
    companyId: idOrNull<string>(row!.company_id),
    what: row!.what,
    ownerWas: row!.owner,
    ownerHad: row!.owner_id,
  };
}
