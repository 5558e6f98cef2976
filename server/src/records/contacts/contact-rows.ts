import type {
  Channel,
  CompanyId,
  Contact,
  ContactRow,
  CustomValue,
  OtherPoint,
  SiteId,
  StandingId,
  UserId,
} from '@kettle/contract';
import { contactPlain, type ContactPlain, type ContactPlainColumns } from '@kettle/contract/base/catalogues';
import type { Queryable } from '../../platform/database/database';
import { instantOf, instantOrNull } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Row } from '../../platform/database/schema.generated';
import { idOfHex } from '../../platform/work/written';
import { customJson, customOfJson, readCustomValues } from '../fields/index';

export type TetherColumns = Row<
  'contact',
  | 'last_touch_at'
  | 'last_touch_kind'
  | 'last_touch_counts'
  | 'next_step_on'
  | 'next_step_channel'
  | 'next_step_at'
>;

export interface ContactColumns
  extends
    TetherColumns,
    ContactPlainColumns,
    Row<
      'contact',
      | 'id'
      | 'category'
      | 'given_name'
      | 'family_name'
      | 'company_id'
      | 'company_name'
      | 'email'
      | 'phone'
      | 'country'
      | 'zone'
      | 'standing_id'
      | 'owner_id'
      | 'last_conversation_at'
      | 'created_at'
      | 'archived_at'
      | 'next_touch_due'
      | 'check_in_days'
      | 'version'
    > {
  display_name: string;
  owner_name: string | null;
  tags: string | null;
}

const plainColumns = contactPlain.keys.map((key) => `c.${contactPlain.of(key).column}`).join(', ');

const plainValuesOf = (row: ContactPlainColumns) =>
  contactPlain.each((_, { column }) => row[column as keyof ContactPlainColumns]) as unknown as ContactPlain;

/** Columns of a list row; `contact c` joined with `app_user u` on the owner. */
const contactColumns = `c.id, c.category, c.display_name, c.given_name, c.family_name, c.company_id, c.company_name, c.email,
  c.phone, c.country, c.zone, c.standing_id, c.owner_id, u.name AS owner_name, ${plainColumns},
  (SELECT GROUP_CONCAT(t.tag ORDER BY t.tag) FROM contact_tag t WHERE t.contact_id = c.id) AS tags,
  c.last_touch_at, c.last_touch_kind, c.last_touch_counts, c.last_conversation_at, c.next_step_on,
  c.next_step_channel, c.next_step_at, c.next_touch_due, c.check_in_days, c.created_at, c.archived_at, c.version`;

export function tetherOf(row: TetherColumns) {
  return {
    lastTouchAt: instantOrNull(row.last_touch_at),
    lastTouchKind: row.last_touch_kind,
    lastTouchCounts: row.last_touch_counts,
    nextStepOn: row.next_step_on,
    nextStepChannel: row.next_step_channel,
    nextStepAt: instantOrNull(row.next_step_at),
  };
}

function contactRowOf(row: ContactColumns, custom: Record<string, CustomValue>): ContactRow {
  return {
    id: idOf(row.id),
    name: row.display_name,
    givenName: row.given_name,
    familyName: row.family_name,
    companyId: idOrNull(row.company_id),
    companyName: row.company_name,
    email: row.email,
    phone: row.phone,
    country: row.country,
    zone: row.zone,
    standingId: idOf<StandingId>(row.standing_id),
    ownerId: idOrNull<UserId>(row.owner_id),
    ownerName: row.owner_name,
    category: row.category,
    ...plainValuesOf(row),
    tags: row.tags?.split(',') ?? [],
    lastConversationAt: instantOrNull(row.last_conversation_at),
    createdAt: instantOf(row.created_at),
    archivedAt: instantOrNull(row.archived_at),
    custom,
    tether: tetherOf(row),
    checkInDueOn: row.next_touch_due,
    checkInDays: row.check_in_days,
    version: row.version,
  };
}

/** List rows of these contacts, in the order of the ids; ids that are gone are left out. */
export async function readContactRows(db: Queryable, ids: readonly Buffer[]): Promise<ContactRow[]> {
  if (ids.length === 0) return [];
  const [rows, custom] = await Promise.all([
    db.rows<ContactColumns>(
      `SELECT ${contactColumns} FROM contact c LEFT JOIN app_user u ON u.id = c.owner_id WHERE c.id IN (:ids)`,
      { ids },
    ),
    readCustomValues(db, ids),
  ]);
  const byId = new Map(rows.map((row) => [row.id.toString('hex'), row]));
  return ids.flatMap((id) => {
    const row = byId.get(id.toString('hex'));
    return row ? contactRowOf(row, custom.get(id.toString('hex')) ?? {}) : [];
  });
}

/** @throws Problem `not-found` */
export async function readContactRow(db: Queryable, id: string): Promise<ContactRow> {
  const [row] = await readContactRows(db, [bytesOf(id)]);
  if (!row) throw new Problem('not-found');
  return row;
}

interface FurtherColumns extends Row<
  'contact',
  'email_unusable' | 'email_label' | 'phone_label' | 'site_id' | 'zone_by_hand' | 'about'
> {
  site_name: string | null;
  marks: string | null;
  facts: string | null;
  points: string | null;
  companies: string | null;
  custom: string | null;
}

interface Mark {
  channel: Channel;
  since: string;
  origin: string;
}
interface ChannelFact {
  channel: Channel;
  tries: number;
  tried: number;
  answered: number;
}

/** Everything that hangs on a contact, gathered by one statement: a dossier is opened more often than anything else. */
const furtherColumns = `c.email_unusable, c.email_label, c.phone_label, c.site_id, s.name AS site_name, c.zone_by_hand, c.about,
  (SELECT JSON_ARRAYAGG(JSON_OBJECT('channel', m.channel, 'since', m.since, 'origin', m.origin) ORDER BY m.channel)
     FROM do_not_contact m WHERE m.contact_id = c.id) AS marks,
  (SELECT JSON_ARRAYAGG(JSON_OBJECT('channel', f.channel, 'tries', f.tries_since_conversation, 'tried', f.tried,
          'answered', f.answered) ORDER BY f.channel)
     FROM channel_fact f WHERE f.contact_id = c.id) AS facts,
  (SELECT JSON_ARRAYAGG(JSON_OBJECT('kind', p.kind, 'label', p.label, 'value', p.value) ORDER BY p.position, p.id)
     FROM contact_point p WHERE p.contact_id = c.id) AS points,
  (SELECT JSON_ARRAYAGG(JSON_OBJECT('id', LOWER(HEX(l.company_id)), 'name', co.name, 'role', l.role)
          ORDER BY co.name, co.id)
     FROM contact_company l JOIN company co ON co.id = l.company_id WHERE l.contact_id = c.id) AS companies,
  ${customJson('c.id')} AS custom`;

const listOf = <Item>(json: string | null) => (json === null ? [] : (JSON.parse(json) as Item[]));

/** @throws Problem `not-found` */
export async function readContact(db: Queryable, id: string): Promise<Contact> {
  const [row] = await db.rows<ContactColumns & FurtherColumns>(
    `SELECT ${contactColumns}, ${furtherColumns} FROM contact c LEFT JOIN app_user u ON u.id = c.owner_id
       LEFT JOIN site s ON s.id = c.site_id WHERE c.id = :id`,
    { id: bytesOf(id) },
  );
  if (!row) throw new Problem('not-found');
  const facts = listOf<ChannelFact>(row.facts);
  return {
    ...contactRowOf(row, customOfJson(row.custom)),
    emailUnusable: row.email_unusable === 1,
    emailLabel: row.email_label,
    phoneLabel: row.phone_label,
    otherPoints: listOf<OtherPoint>(row.points),
    otherCompanies: listOf<{ id: string; name: string; role: string | null }>(row.companies).map((each) => ({
      companyId: idOfHex<CompanyId>(each.id),
      name: each.name,
      role: each.role,
    })),
    siteId: idOrNull<SiteId>(row.site_id),
    siteName: row.site_name,
    zoneByHand: row.zone_by_hand === 1,
    doNotContact: listOf<Mark>(row.marks).map((mark) => ({
      ...mark,
      since: instantOf(mark.since.slice(0, 23)),
    })),
    attempts: facts.filter((fact) => fact.tries > 0).map(({ channel, tries }) => ({ channel, tries })),
    answers: facts.map(({ channel, tried, answered }) => ({ channel, tried, answered })),
    about: row.about,
  };
}
