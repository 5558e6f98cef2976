import { bytesOf } from '../../platform/ids';
import type { SqlParameters } from '../../platform/database/database';
import type { SignedIn } from '../users/index';

/** What somebody wants with a record. */
export type Use = 'reads' | 'changes';

/** Kinds of records that belong to somebody, as ids of the contract name them. */
export const ownedTables = {
  contact: 'contact',
  company: 'company',
  deal: 'deal',
  lead: 'sales_lead',
  task: 'task',
  agreement: 'agreement',
  entry: 'journal_entry',
  run: 'run',
  mail: 'mail',
  text: 'text_message',
  file: 'stored_file',
  appointment: 'appointment',
  phoneCall: 'phone_call',
  stirring: 'stirring',
  view: 'saved_view',
  import: 'import_batch',
  bulk: 'bulk',
  quote: 'quote',
  invoice: 'invoice',
} as const;

export type Owned = keyof typeof ownedTables;

/** An owner's column is nobody's, one's own, or that of somebody within reach. */
const owned = (column: string) => `(${column} IS NULL OR ${column} IN (:reach))`;
const own = (column: string) => `${column} IN (:reach)`;

/** A record that is another's by a column: `(SELECT …)` of the other's clause, which has an alias of its own. */
const through = (kind: Owned, column: string, use: Use) =>
  `EXISTS (SELECT 1 FROM ${ownedTables[kind]} ${kind}_of WHERE ${kind}_of.id = ${column} AND ${clauses[kind](`${kind}_of`, use)})`;

/** Of what hangs on several records, every one that it names. */
const each = (alias: string, use: Use, parts: readonly [Owned, string][]) =>
  parts
    .map(([kind, column]) => `(${alias}.${column} IS NULL OR ${through(kind, `${alias}.${column}`, use)})`)
    .join(' AND ');

const inTeam = (deal: string) =>
  `EXISTS (SELECT 1 FROM deal_colleague team WHERE team.deal_id = ${deal} AND team.user_id = :reach_me)`;

const hasTask = (column: 'contact_id' | 'deal_id', alias: string) =>
  `EXISTS (SELECT 1 FROM task asked WHERE asked.${column} = ${alias}.id AND asked.state = 'open' AND ${own('asked.owner_id')})`;

/** When a record is within somebody's reach; `:reach` are the people within it, with oneself. */
const clauses: Readonly<Record<Owned, (alias: string, use: Use) => string>> = {
  contact: (a, use) =>
    use === 'changes'
      ? owned(`${a}.owner_id`)
      : // Whoever works on a deal reads the people in it; whoever is asked to do something, whom it is about.
        `(${owned(`${a}.owner_id`)} OR ${hasTask('contact_id', a)}
          OR EXISTS (SELECT 1 FROM deal shared WHERE shared.contact_id = ${a}.id AND (${own('shared.owner_id')} OR ${inTeam('shared.id')}))
          OR EXISTS (SELECT 1 FROM deal_person part JOIN deal shared ON shared.id = part.deal_id
                      WHERE part.contact_id = ${a}.id AND (${own('shared.owner_id')} OR ${inTeam('shared.id')})))`,
  company: (a, use) =>
    use === 'changes'
      ? owned(`${a}.owner_id`)
      : `(${owned(`${a}.owner_id`)} OR EXISTS (SELECT 1 FROM contact there WHERE there.company_id = ${a}.id AND ${own('there.owner_id')}))`,
  deal: (a, use) =>
    use === 'changes'
      ? `(${owned(`${a}.owner_id`)} OR ${inTeam(`${a}.id`)})`
      : `(${owned(`${a}.owner_id`)} OR ${inTeam(`${a}.id`)} OR ${hasTask('deal_id', a)}
          OR EXISTS (SELECT 1 FROM contact with_whom WHERE with_whom.id = ${a}.contact_id AND ${own('with_whom.owner_id')}))`,
  lead: (a, use) => (use === 'changes' ? owned(`${a}.owner_id`) : byContact(a, 'owner_id', use)),
  task: (a, use) => byContactOrDeal(a, 'owner_id', use),
  agreement: (a, use) => byContact(a, 'owner_id', use),
  entry: (a, use) =>
    use === 'changes' ? owned(`${a}.user_id`) : `(${byContactOrDeal(a, 'user_id', use)} OR ${ofCompany(a)})`,
  run: (a, use) => byContact(a, 'owner_id', use),
  mail: (a, use) => `(${a}.user_id IS NULL OR ${byContact(a, 'user_id', use)})`,
  text: (a, use) => `(${a}.user_id IS NULL OR ${byContact(a, 'user_id', use)})`,
  file: (a, use) =>
    each(a, use, [
      ['contact', 'contact_id'],
      ['company', 'company_id'],
      ['deal', 'deal_id'],
      ['agreement', 'agreement_id'],
    ]),
  appointment: (a, use) =>
    use === 'changes'
      ? own(`${a}.owner_id`)
      : `(${byContactOrDeal(a, 'owner_id', use)}
          OR EXISTS (SELECT 1 FROM appointment_guest with_me WHERE with_me.appointment_id = ${a}.id AND with_me.user_id = :reach_me))`,
  phoneCall: (a) => mine(a),
  stirring: (a, use) => `(${a}.user_id IS NULL OR ${byContact(a, 'user_id', use)})`,
  view: (a, use) => (use === 'changes' ? mine(a) : `(${a}.is_shared = 1 OR ${mine(a)})`),
  import: (a) => mine(a),
  invoice: (a, use) => through('deal', `${a}.deal_id`, use),
  quote: (a, use) => through('deal', `${a}.deal_id`, use),
  bulk: (a, use) => (use === 'changes' ? own(`${a}.user_id`) : mine(a)),
};

const mine = (alias: string) => `${alias}.user_id = :reach_me`;

/** One's own, or about a person within reach. */
const byContact = (alias: string, owner: string, use: Use) =>
  `(${own(`${alias}.${owner}`)} OR ${through('contact', `${alias}.contact_id`, use)})`;

const byContactOrDeal = (alias: string, owner: string, use: Use) =>
  `(${own(`${alias}.${owner}`)} OR ${through('contact', `${alias}.contact_id`, use)} OR ${through('deal', `${alias}.deal_id`, use)})`;

const ofCompany = (alias: string) =>
  `(${alias}.contact_id IS NULL AND ${alias}.deal_id IS NULL AND ${through('company', `${alias}.company_id`, 'reads')})`;

/** Kinds that only their maker sees, whatever the policy. */
const alwaysOwn = new Set<Owned>(['view', 'import', 'bulk', 'phoneCall']);

/** Whether a record's kind can be out of somebody's reach at all. */
export const isLimited = (who: SignedIn, kind: Owned, use: Use) =>
  alwaysOwn.has(kind) || who.reach[use] !== 'everybody';

/**
 * The condition that a record is within somebody's reach, for a WHERE clause; `TRUE` where everything is. Its parameters are those of
 * `reachParameters`.
 * @param alias of the record's table in the statement
 */
export const withinReach = (who: SignedIn, kind: Owned, alias: string, use: Use = 'reads'): string =>
  isLimited(who, kind, use) ? clauses[kind](alias, use) : 'TRUE';

/** What the conditions of `withinReach` ask for. One use in a statement. */
export function reachParameters(who: SignedIn, use: Use = 'reads'): SqlParameters {
  const reach = who.reach[use];
  const people = reach === 'everybody' ? [] : [...reach];
  return { reach: [who.id, ...people].map((id) => bytesOf(id)), reach_me: bytesOf(who.id) };
}
