import type { Removable } from '@kettle/contract';
import { sayCount } from '@kettle/core/locale';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { Row } from '../../platform/database/schema.generated';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { work, type PersonWork } from '../../platform/work/work';
import { writeSystemEntry } from '../../records/entries/index';
import { type SignedIn } from '../../records/users/index';
import { tellRuns } from '../cadences/index';
import { lockRecord, tableOf, type SeenRecord } from './lock-record';

/** What of a record is not finished, as SQL that names it: while there is such a thing the record cannot be archived. */
const openDeal = (column: string) =>
  `SELECT CONCAT('the deal “', name, '” is ', status) AS why FROM deal WHERE ${column} = :id AND status IN ('open', 'parked')`;
const runningAgreement = (column: string) =>
  `SELECT CONCAT('the agreement “', name, IF(state = 'over', '” is over without an end', CONCAT('” runs until ', COALESCE(leaves_on, ends_on)))) AS why FROM agreement
    WHERE ${column} = :id AND archived_at IS NULL AND state <> 'ended'`;
const openLead = (column: string) =>
  `SELECT CONCAT('the lead “', subject, '” is neither qualified nor set aside') AS why FROM sales_lead
    WHERE ${column} = :id AND status IN ('untried', 'trying', 'in-talks')`;

const unfinished: Readonly<Record<Removable, readonly string[]>> = {
  contact: [openDeal('contact_id'), runningAgreement('contact_id'), openLead('contact_id')],
  company: [openDeal('company_id'), runningAgreement('company_id')],
  deal: [openDeal('id')],
  lead: [openLead('id')],
  agreement: [],
};

/** Steps that lose their purpose with the record. */
const stepsOf: Readonly<Record<Removable, string | null>> = {
  contact: 'contact_id = :id',
  company: 'company_id = :id AND contact_id IS NULL AND deal_id IS NULL',
  deal: 'deal_id = :id',
  lead: null,
  agreement: null,
};

/** What the journal entry of an archiving is about, beside a record of its own journal. */
const subjectsOf: Readonly<Record<Removable, string>> = {
  contact: 'id AS contact_id, NULL AS company_id, NULL AS deal_id',
  company: 'NULL AS contact_id, id AS company_id, NULL AS deal_id',
  deal: 'contact_id, company_id, id AS deal_id',
  lead: 'contact_id, NULL AS company_id, deal_id',
  agreement: 'contact_id, company_id, deal_id',
};

/**
 * Archives a record or takes it out again. An archived one is kept and found by search, and is in no list, count or Round; its planned steps
 * are dropped and its cadences stopped. Whatever happens with it from then on brings it back (`bringBack`).
 * A change set like any other: its undo plans the steps again.
 * @throws Problem `not-found`, `not-yours`, `stale`, `not-finished` with what has to be finished first
 */
export async function archiveRecord(
  services: Services,
  who: SignedIn,
  asked: SeenRecord & { readonly isArchived: boolean },
): Promise<string> {
  return work(services, who, (w) => archiveInside(w, asked));
}

async function archiveInside(
  w: PersonWork,
  asked: SeenRecord & { readonly isArchived: boolean },
): Promise<string> {
  const name = await lockRecord(w, asked);
  if (asked.isArchived) await assertFinished(w, asked, name);
  await w.change(
    `UPDATE ${tableOf[asked.kind]} SET archived_at = :at, version = version + 1 WHERE id = :id`,
    {
      id: bytesOf(asked.id),
      at: asked.isArchived ? sqlInstant(w.now) : null,
    },
  );
  if (asked.isArchived) await dropSteps(w, asked);
  await tell(
    w,
    asked,
    `${titleOf(asked.kind, name)} ${asked.isArchived ? $localize`archived` : $localize`out of the archive`}`,
  );
  w.say(
    asked.isArchived ? $localize`${name}:name: archived` : $localize`${name}:name: taken out of the archive`,
  );
  return asked.isArchived
    ? $localize`${name}:name: is archived.`
    : $localize`${name}:name: is out of the archive.`;
}

/** Archives leads that are decided, or takes leads out again, in one change: those that are not decided stay, and are counted. */
export async function archiveLeads(
  w: PersonWork,
  { ids, isArchived }: { readonly ids: readonly string[]; readonly isArchived: boolean },
): Promise<{ changed: number; left: number }> {
  const rows = await w.rows<Row<'sales_lead', 'id' | 'version'>>(
    `SELECT id, version FROM sales_lead WHERE id IN (:ids) AND (archived_at IS NULL) = :isArchived
        AND (NOT :isArchived OR status IN ('qualified', 'set-aside')) ORDER BY id FOR UPDATE`,
    { ids: ids.map((id) => bytesOf(id)), isArchived },
  );
  for (const { id, version } of rows)
    await archiveInside(w, { kind: 'lead', id: idOf(id), version, isArchived });
  const words = sayCount(rows.length, $localize`lead|leads`);
  w.say(
    isArchived ? $localize`${words}:words: archived` : $localize`${words}:words: taken out of the archive`,
  );
  return { changed: rows.length, left: new Set(ids).size - rows.length };
}

const titleOf = (kind: Removable, name: string) =>
  kind === 'contact' || kind === 'company' ? name : `${kind[0]!.toUpperCase()}${kind.slice(1)} “${name}”`;

async function assertFinished(w: PersonWork, { kind, id }: SeenRecord, name: string): Promise<void> {
  for (const sql of unfinished[kind]) {
    const [row] = await w.rows<{ why: string }>(`${sql} ORDER BY 1 LIMIT 1`, {
      id: bytesOf(id),
    });
    if (row) throw new Problem('not-finished', { what: name, why: row.why });
  }
}

async function dropSteps(w: PersonWork, { kind, id }: SeenRecord): Promise<void> {
  const ofRecord = stepsOf[kind];
  if (kind === 'contact')
    await tellRuns(w, id, (stored) => ({
      id: `archive:${stored.id}:${stored.version}`,
      at: w.now,
      kind: 'stopped',
      reason: $localize`archived by ${w.who.name}:name:`,
    }));
  if (ofRecord === null) return;
  await w.change(
    `UPDATE task SET state = 'dropped', drop_reason = 'archived', finished_at = :now, version = version + 1
      WHERE ${ofRecord} AND state = 'open'`,
    { id: bytesOf(id), now: sqlInstant(w.now) },
  );
}

async function tell(w: PersonWork, { kind, id }: SeenRecord, body: string): Promise<void> {
  const [row] = await w.rows<Record<'contact_id' | 'company_id' | 'deal_id', IdBytes | null>>(
    `SELECT ${subjectsOf[kind]} FROM ${tableOf[kind]} WHERE id = :id`,
    { id: bytesOf(id) },
  );
  await writeSystemEntry(w, {
    body,
    contactId: idOrNull<string>(row!.contact_id),
    companyId: idOrNull<string>(row!.company_id),
    dealId: idOrNull<string>(row!.deal_id),
    userId: w.who.id,
  });
}
