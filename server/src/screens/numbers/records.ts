import type { ReportRecord, ReportRecords } from '@kettle/contract';
import { journalKindLabel } from '@kettle/contract';
import { leadStatusLabel } from '@kettle/contract/leads/status-label';
import type { Queryable, SqlParameters } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { wholeNumber } from '../../platform/database/values';
import { idOf, idOrNull, type IdBytes } from '../../platform/ids';
import { saidNow } from '../../platform/language/language';
import type { Facts } from './facts';
import { rowKey } from './scope';

/** What a figure is a figure of. */
export type RecordKind = 'deal' | 'lead' | 'contact' | 'entry';

const mostListed = 500;

interface Asked {
  readonly facts: Facts;
  readonly parameters: SqlParameters;
  /** Of one row; undefined for all. */
  readonly row: string | undefined;
  /** Which facts count. */
  readonly of: string;
}

/** The records behind a figure: how many, and the newest of them. */
export async function readRecords(
  db: Queryable,
  { facts, parameters, row, of }: Asked,
): Promise<ReportRecords> {
  const sql = row === undefined ? (facts.whole ?? facts.sql) : facts.sql;
  const found = `SELECT DISTINCT f.id FROM (${sql}) f
    WHERE ${of}${row === undefined ? '' : ` AND ${rowKey} = :row`}`;
  const asked = { ...parameters, ...facts.parameters, row: row ?? '' };
  const [[counted], records] = await Promise.all([
    db.rows<{ many: string }>(`SELECT COUNT(*) AS many FROM (${found}) n`, asked),
    lists[facts.record](db, found, asked),
  ]);
  return { count: wholeNumber(counted?.many ?? 0), records };
}

type List = (db: Queryable, found: string, parameters: SqlParameters) => Promise<ReportRecord[]>;

const under = (...parts: readonly (string | null)[]) => parts.filter(Boolean).join(' · ');

const deals: List = async (db, found, parameters) => {
  const rows = await db.rows<
    Row<'deal', 'id' | 'name' | 'status' | 'home_minor' | 'close_reason'> & {
      on_day: string | null;
      whom: string | null;
      owner: string;
      stage: string;
    }
  >(
    `SELECT r.id, r.name, r.status, r.home_minor, r.close_reason, COALESCE(r.closed_on, r.expected_close_on) AS on_day,
            COALESCE(co.name, c.display_name) AS whom, u.name AS owner, s.name AS stage
       FROM (${found}) n JOIN deal r ON r.id = n.id JOIN stage s ON s.id = r.stage_id JOIN app_user u ON u.id = r.owner_id
       LEFT JOIN company co ON co.id = r.company_id LEFT JOIN contact c ON c.id = r.contact_id
      ORDER BY on_day DESC, r.id LIMIT ${mostListed}`,
    parameters,
  );
  return rows.map((row) => ({
    ...{ id: idOf<string>(row.id), name: row.name, path: `/deals/${idOf<string>(row.id)}` },
    ...{ under: under(row.whom, row.owner), on: row.on_day },
    minor: row.home_minor === null ? null : wholeNumber(row.home_minor),
    words: stateOf(row),
  }));
};

function stateOf({
  status,
  stage,
  close_reason: reason,
}: Row<'deal', 'status' | 'close_reason'> & { stage: string }) {
  if (status === 'open') return stage;
  if (status === 'parked') return $localize`parked`;
  const words = status === 'won' ? $localize`won at ${stage}:stage:` : $localize`lost at ${stage}:stage:`;
  return reason === null ? words : `${words}: ${reason}`;
}

const leads: List = async (db, found, parameters) => {
  const rows = await db.rows<
    Row<'sales_lead', 'id' | 'subject' | 'status' | 'aside_reason'> & {
      on_day: string;
      name: string;
      owner: string | null;
    }
  >(
    `SELECT r.id, r.subject, r.status, r.aside_reason, DATE(r.created_at) AS on_day, c.display_name AS name, u.name AS owner
       FROM (${found}) n JOIN sales_lead r ON r.id = n.id JOIN contact c ON c.id = r.contact_id
       LEFT JOIN app_user u ON u.id = r.owner_id
      ORDER BY r.created_at DESC, r.id LIMIT ${mostListed}`,
    parameters,
  );
  return rows.map((row) => ({
    ...{ id: idOf<string>(row.id), name: row.name, path: `/deals/leads/${idOf<string>(row.id)}` },
    ...{ under: under(row.subject, row.owner), on: row.on_day, minor: null },
    words: under(saidNow(leadStatusLabel[row.status]), row.aside_reason),
  }));
};

const contacts: List = async (db, found, parameters) => {
  const rows = await db.rows<
    Row<'contact', 'id' | 'display_name' | 'next_touch_due'> & {
      company: string | null;
      owner: string | null;
      standing: string;
    }
  >(
    `SELECT r.id, r.display_name, r.next_touch_due, COALESCE(co.name, r.company_name) AS company, u.name AS owner, s.name AS standing
       FROM (${found}) n JOIN contact r ON r.id = n.id JOIN standing s ON s.id = r.standing_id
       LEFT JOIN company co ON co.id = r.company_id LEFT JOIN app_user u ON u.id = r.owner_id
      ORDER BY r.check_in_sort, r.id LIMIT ${mostListed}`,
    parameters,
  );
  return rows.map((row) => ({
    ...{ id: idOf<string>(row.id), name: row.display_name, path: `/people/${idOf<string>(row.id)}` },
    ...{ under: under(row.company, row.owner), on: row.next_touch_due, minor: null, words: row.standing },
  }));
};

const entries: List = async (db, found, parameters) => {
  const rows = await db.rows<
    Row<
      'journal_entry',
      'id' | 'kind' | 'outcome_label' | 'body' | 'contact_id' | 'deal_id' | 'company_id'
    > & {
      on_day: string;
      person: string | null;
      deal: string | null;
      company: string | null;
      owner: string | null;
    }
  >(
    `SELECT r.id, r.kind, r.outcome_label, LEFT(r.body, 160) AS body, r.contact_id, r.deal_id, r.company_id, DATE(r.at) AS on_day,
            c.display_name AS person, d.name AS deal, co.name AS company, u.name AS owner
       FROM (${found}) n JOIN journal_entry r ON r.id = n.id LEFT JOIN contact c ON c.id = r.contact_id
       LEFT JOIN deal d ON d.id = r.deal_id LEFT JOIN company co ON co.id = r.company_id LEFT JOIN app_user u ON u.id = r.user_id
      ORDER BY r.at DESC, r.id LIMIT ${mostListed}`,
    parameters,
  );
  return rows.map((row) => ({
    ...{ id: idOf<string>(row.id), name: row.person ?? row.deal ?? row.company ?? '', path: placeOf(row) },
    ...{ under: under(row.deal, row.owner), on: row.on_day, minor: null },
    words: under(`${saidNow(journalKindLabel[row.kind])}`, row.outcome_label, plainOf(row.body)),
  }));
};

/** What was written with marks of its form reads without them. */
const plainOf = (body: string) =>
  body
    .replace(/<[^>]*>/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

function placeOf(row: Row<'journal_entry', 'contact_id' | 'deal_id' | 'company_id'>): string | null {
  const at = (path: string, id: IdBytes | null) => (id === null ? null : `${path}/${idOrNull<string>(id)}`);
  return at('/people', row.contact_id) ?? at('/deals', row.deal_id) ?? at('/companies', row.company_id);
}

const lists: Readonly<Record<RecordKind, List>> = {
  deal: deals,
  lead: leads,
  contact: contacts,
  entry: entries,
};
