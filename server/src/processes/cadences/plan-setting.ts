import type { Channel, ContactId, PlainDate } from '@kettle/contract';
import { channelNames } from '@kettle/contract/base/channels';
import type { PlanContact, PlanSetting } from '@kettle/core/cadences';
import { localDate } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../../records/users/index';
import type { AllSettings } from '../../records/settings/index';
import type { Row } from '../../platform/database/schema.generated';

const hourMillis = 3_600_000;

export interface PlannablePerson {
  readonly contactId: ContactId;
  readonly name: string;
  readonly companyId: string | null;
  readonly companyName: string | null;
  readonly ownerId: string | null;
  readonly zone: string;
  readonly contact: PlanContact;
  readonly takenDays: ReadonlySet<PlainDate>;
}

interface PersonRow extends Row<
  'contact',
  'id' | 'company_id' | 'company_name' | 'owner_id' | 'country' | 'zone' | 'last_touch_at'
> {
  display_name: string;
  has_phone: number;
  has_email: number;
}

/** The people to be planned for, in the order asked, with what planning must know of each; locks them when asked to. */
export async function readPlannable(
  db: Queryable,
  { calendars, clock, settings }: Services,
  contactIds: readonly ContactId[],
  lock = false,
): Promise<PlannablePerson[]> {
  const ids = contactIds.map((id) => bytesOf(id));
  const rows = await db.rows<PersonRow>(
    `SELECT id, display_name, company_id, company_name, owner_id, country, zone, last_touch_at,
            phone IS NOT NULL AND NOT phone_unusable AS has_phone, email IS NOT NULL AND NOT email_unusable AS has_email
       FROM contact WHERE id IN (:ids) ORDER BY id ${lock ? 'FOR UPDATE' : ''}`,
    { ids },
  );
  const marks = await db.rows<Row<'do_not_contact', 'contact_id' | 'channel'>>(
    'SELECT contact_id, channel FROM do_not_contact WHERE contact_id IN (:ids)',
    { ids },
  );
  const tasks = await db.rows<{ contact_id: IdBytes; due_on: PlainDate }>(
    "SELECT contact_id, due_on FROM task WHERE contact_id IN (:ids) AND state = 'open'",
    { ids },
  );
  const { organisation } = await settings.read(db);
  const now = clock.now();
  const tries = await db.rows<Row<'journal_entry', 'at'> & { contact_id: IdBytes }>(
    `SELECT contact_id, at FROM journal_entry
      WHERE contact_id IN (:ids) AND at >= :from AND kind IN (:channels) AND (direction IS NULL OR direction = 'out') AND removed_at IS NULL`,
    {
      ids,
      channels: channelNames,
      from: sqlInstant(new Date(Date.parse(now) - 48 * hourMillis).toISOString()),
    },
  );
  const marked = groupById(marks, (row) => row.channel);
  const taken = groupById(tasks, (row) => row.due_on);
  const tried = groupById(tries, (row) => instantOf(row.at));
  const people = new Map(
    rows.map((row) => {
      const id = idOf<ContactId>(row.id);
      const days = new Set(taken.get(id));
      // Every try of a day counts, also one that is no touch.
      for (const at of tried.get(id) ?? []) days.add(localDate(at, row.zone));
      if (row.last_touch_at !== null) days.add(localDate(instantOf(row.last_touch_at), row.zone));
      const person: PlannablePerson = {
        contactId: id,
        name: row.display_name,
        companyId: row.company_id && idOf(row.company_id),
        companyName: row.company_name,
        ownerId: row.owner_id && idOf(row.owner_id),
        zone: row.zone,
        contact: {
          calendar: calendars.of({ country: row.country, zone: row.zone }, organisation),
          doNotContact: new Set(marked.get(id)),
          unreachable: unreachable(row),
        },
        takenDays: days,
      };
      return [id, person] as const;
    }),
  );
  return contactIds.flatMap((id) => people.get(id) ?? []);
}

function unreachable(row: PersonRow): Set<Channel> {
  const none = new Set<Channel>();
  if (!row.has_phone) none.add('call').add('text');
  if (!row.has_email) none.add('email');
  return none;
}

function groupById<Row extends { contact_id: IdBytes }, Value>(
  rows: readonly Row[],
  pick: (row: Row) => Value,
) {
  const groups = new Map<string, Value[]>();
  for (const row of rows) {
    const id = idOf<string>(row.contact_id);
    const group = groups.get(id);
    if (group) group.push(pick(row));
    else groups.set(id, [pick(row)]);
  }
  return groups;
}

export type CompanyDays = Map<string, Map<PlainDate, number>>;

/** Open touches by company and day, for the limit on how many a firm gets in one day. */
export async function readCompanyDays(
  db: Queryable,
  people: readonly PlannablePerson[],
  from: PlainDate,
): Promise<CompanyDays> {
  const ids = [...new Set(people.flatMap((person) => person.companyId ?? []))].map((id) => bytesOf(id));
  const days: CompanyDays = new Map();
  if (ids.length === 0) return days;
  const rows = await db.rows<{ company_id: IdBytes; due_on: PlainDate; touches: string }>(
    `SELECT company_id, due_on, COUNT(*) AS touches FROM task
      WHERE company_id IN (:ids) AND state = 'open' AND due_on >= :from GROUP BY company_id, due_on`,
    { ids, from },
  );
  for (const row of rows) daysOf(days, idOf(row.company_id)).set(row.due_on, Number(row.touches));
  return days;
}

export function daysOf(days: CompanyDays, companyId: string): Map<PlainDate, number> {
  const known = days.get(companyId);
  if (known) return known;
  const made = new Map<PlainDate, number>();
  days.set(companyId, made);
  return made;
}

export function planSettingOf(
  person: PlannablePerson,
  companyDays: CompanyDays,
  { calendars, clock }: Services,
  settings: AllSettings,
  rep: Pick<SignedIn, 'country' | 'zone' | 'hours'>,
): PlanSetting {
  return {
    contact: person.contact,
    rep: calendars.of(rep, settings.organisation),
    taken: {
      person: person.takenDays,
      company: person.companyId === null ? new Map() : daysOf(companyDays, person.companyId),
      companyDailyLimit: settings.organisation.companyDailyLimit,
    },
    now: clock.now(),
  };
}
