import type { Channel, Contact, ContactRow, StandingId, TouchCount, UserId } from '@kettle/contract';
import type { Queryable } from '../../db/database';
import { instantOf, instantOrNull } from '../../db/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../ids';
import { Problem } from '../../http/problem';

export interface TetherColumns {
  last_touch_at: string | null;
  last_touch_kind: string | null;
  last_touch_counts: TouchCount | null;
  next_step_on: string | null;
  next_step_channel: Channel | null;
}

export interface ContactColumns extends TetherColumns {
  id: IdBytes;
  given_name: string;
  family_name: string;
  job_title: string | null;
  company_id: IdBytes | null;
  company_name: string | null;
  email: string | null;
  phone: string | null;
  country: string;
  zone: string;
  standing_id: IdBytes;
  owner_id: IdBytes | null;
  owner_name: string | null;
  next_touch_due: string | null;
  version: number;
}

/** Columns of a list row; `contact c` joined with `app_user u` on the owner. */
export const contactColumns = `c.id, c.given_name, c.family_name, c.job_title, c.company_id, c.company_name, c.email,
  c.phone, c.country, c.zone, c.standing_id, c.owner_id, u.name AS owner_name, c.last_touch_at, c.last_touch_kind,
  c.last_touch_counts, c.next_step_on, c.next_step_channel, c.next_touch_due, c.version`;

export function contactName(row: { given_name: string; family_name: string }): string {
  return `${row.given_name} ${row.family_name}`.trim();
}

export function tetherOf(row: TetherColumns) {
  return {
    lastTouchAt: instantOrNull(row.last_touch_at),
    lastTouchKind: row.last_touch_kind,
    lastTouchCounts: row.last_touch_counts,
    nextStepOn: row.next_step_on,
    nextStepChannel: row.next_step_channel,
  };
}

export function contactRowOf(row: ContactColumns): ContactRow {
  return {
    id: idOf(row.id),
    name: contactName(row),
    jobTitle: row.job_title,
    companyId: idOrNull(row.company_id),
    companyName: row.company_name,
    email: row.email,
    phone: row.phone,
    country: row.country,
    zone: row.zone,
    standingId: idOf<StandingId>(row.standing_id),
    ownerId: idOrNull<UserId>(row.owner_id),
    ownerName: row.owner_name,
    tether: tetherOf(row),
    checkInDueOn: row.next_touch_due,
    version: row.version,
  };
}

interface WholeContactColumns extends ContactColumns {
  check_in_days: number | null;
  last_conversation_at: string | null;
  source: string | null;
  about: string;
}

/** @throws Problem `not-found` */
export async function readContact(db: Queryable, id: string): Promise<Contact> {
  const key = { id: bytesOf(id) };
  const [row] = await db.rows<WholeContactColumns>(
    `SELECT ${contactColumns}, c.check_in_days, c.last_conversation_at, c.source, c.about
       FROM contact c LEFT JOIN app_user u ON u.id = c.owner_id WHERE c.id = :id`,
    key,
  );
  if (!row) throw new Problem('not-found');
  const marks = await db.rows<{ channel: Channel; since: string; origin: string }>(
    'SELECT channel, since, origin FROM do_not_contact WHERE contact_id = :id ORDER BY channel',
    key,
  );
  const facts = await db.rows<{ channel: Channel; tries: number; tried: number; answered: number }>(
    `SELECT channel, tries_since_conversation AS tries, tried, answered
       FROM channel_fact WHERE contact_id = :id ORDER BY channel`,
    key,
  );
  return {
    ...contactRowOf(row),
    givenName: row.given_name,
    familyName: row.family_name,
    checkInDays: row.check_in_days,
    doNotContact: marks.map((mark) => ({ ...mark, since: instantOf(mark.since) })),
    lastConversationAt: instantOrNull(row.last_conversation_at),
    attempts: facts.filter((fact) => fact.tries > 0).map(({ channel, tries }) => ({ channel, tries })),
    answers: facts.map(({ channel, tried, answered }) => ({ channel, tried, answered })),
    source: row.source,
    about: row.about,
  };
}
