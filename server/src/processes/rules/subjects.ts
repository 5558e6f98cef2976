import type { CustomSubject, FilterGroup, RuleSubject } from '@kettle/contract';
import type { Queryable, SqlParameters, SqlValue } from '../../platform/database/database';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { contactSql } from '../../records/contacts/index';
import type { Reader } from '../../records/counted/index';
import { filterSetting, filterSql, type FilterSetting, type ListSql } from '../../records/grid/index';
import { type Owned, reachParameters, withinReach } from '../../records/rights/index';
import { readAt, type SignedIn } from '../../records/users/index';
import { agreementSql } from '../agreements/index';
import { dealSql } from '../deals/index';
import { leadSql } from '../leads/index';

/** Where the records of a subject lie, and what is read of each. */
interface SubjectSql {
  readonly topic: string;
  readonly kind: Owned;
  readonly alias: string;
  readonly table: string;
  readonly sql: (reader: Reader) => ListSql;
  readonly custom: CustomSubject | null;
  readonly name: string;
  readonly path: string;
  /** Of what is over no day comes any more. */
  readonly goesOn: string;
  /** The dates that a rule counts from, by the names of the contract. */
  readonly dates: Readonly<Record<string, string>>;
}

export const subjects: Readonly<Record<RuleSubject, SubjectSql>> = {
  contact: {
    ...{ topic: 'contact', kind: 'contact', alias: 'c', table: 'contact', sql: contactSql },
    ...{ custom: 'contact', name: 'c.display_name', path: '/people/', dates: {}, goesOn: 'TRUE' },
  },
  deal: {
    ...{ topic: 'deal', kind: 'deal', alias: 'd', table: 'deal', sql: dealSql },
    ...{ custom: 'deal', name: 'd.name', path: '/deals/', goesOn: "d.status = 'open'" },
    dates: { close: 'd.expected_close_on', decision: 'd.decision_on', wake: 'd.wake_on' },
  },
  lead: {
    ...{ topic: 'lead', kind: 'lead', alias: 'l', table: 'sales_lead', sql: () => leadSql },
    ...{ custom: null, name: 'l.subject', path: '/deals/leads/', goesOn: "l.status <> 'set-aside'" },
    dates: { 'follow-up': 'l.follow_up_on', wake: 'l.wake_on' },
  },
  agreement: {
    ...{ topic: 'agreement', kind: 'agreement', alias: 'a', table: 'agreement', sql: () => agreementSql },
    ...{ custom: null, name: 'a.name', path: '/agreements/', goesOn: "a.state <> 'ended'" },
    dates: {
      ...{ starts: 'a.term_starts_on', lead: 'a.lead_on', notice: 'a.notice_deadline_on', ends: 'a.ends_on' },
    },
  },
};

export interface FoundRecord {
  readonly id: string;
  readonly name: string;
  readonly path: string;
}

/** Asks which records a rule is about: what its questions let through, and what whoever it acts for may change. */
export interface Asking {
  readonly subject: RuleSubject;
  readonly asks: FilterGroup | null;
  readonly who: SignedIn;
}

/** Conditions on the records of a subject, with further ones of the caller's. */
export interface Narrowed {
  readonly where: string;
  readonly parameters: SqlParameters;
  readonly limit?: number;
  readonly order?: string;
  /** What is read beside: ` , d.stage_since AS crossed`. */
  readonly also?: string;
}

type FoundRow = { readonly id: IdBytes<string>; readonly name: string | null };

/** Records that a rule would do something to. */
export async function findRecords<More extends object = object>(
  db: Queryable,
  services: Services,
  { subject, asks, who }: Asking,
  narrowed: Narrowed,
): Promise<(FoundRecord & { readonly row: More })[]> {
  const place = subjects[subject];
  const { today } = readAt(services, who);
  const asked = { filter: asks ?? undefined };
  const setting: FilterSetting = await filterSetting(services, asked, { who, today, subject: place.custom });
  const list = place.sql(setting);
  const parameters: Record<string, SqlValue> = {
    ...reachParameters(who, 'changes'),
    ...narrowed.parameters,
    today,
  };
  const filter = asks === null ? null : filterSql(list, asks, setting, parameters);
  const where = [
    `${place.alias}.archived_at IS NULL`,
    withinReach(who, place.kind, place.alias, 'changes'),
    narrowed.where,
    ...(filter === null ? [] : [filter]),
  ].join(' AND ');
  const { also = '', order = place.alias + '.id', limit = 5000 } = narrowed;
  const rows = await db.rows<FoundRow & More>(
    `SELECT ${place.alias}.id, ${place.name} AS name${also} ${list.from(where, place.name)} WHERE ${where}
      ORDER BY ${order} LIMIT ${limit}`,
    parameters,
  );
  return rows.map((row) => {
    const id = idOf<string>(row.id);
    return { id, name: row.name ?? '', path: place.path + id, row };
  });
}

/** The records among some that a rule would do something to. */
export const findAmong = (db: Queryable, services: Services, asking: Asking, ids: readonly string[]) =>
  ids.length === 0
    ? Promise.resolve([])
    : findRecords(db, services, asking, {
        where: `${subjects[asking.subject].alias}.id IN (:among)`,
        parameters: { among: ids.map((id) => bytesOf(id)) },
      });
