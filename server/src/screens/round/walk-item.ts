import type { Channel, TaskId, WalkItem, walkQuery } from '@kettle/contract';
import { journalKinds } from '@kettle/contract';
import { channelsThat, ofChannels } from '@kettle/contract/base/channels';
import { advance } from '@kettle/core/cadences';
import {
  asksWhetherHeld,
  outcomesOf,
  proposeNextStep,
  type ProposalFacts,
  sayAnswers,
} from '@kettle/core/touch';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { bytesOf, idOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { readMinutes } from './learned-minutes';
import { readRunsOf, settingOfRun } from '../../processes/cadences/index';
import { likelyDeal, readDealRows, readOdds } from '../../processes/deals/index';
import { readAnswerRates, readOwnHours } from '../../activity/touch/index';
import { readStandings } from '../../records/settings/index';
import { readJournal } from '../../activity/journal/index';
import { readContact } from '../../records/contacts/index';
import { readAt, type SignedIn, todayOf } from '../../records/users/index';
import { appointmentOf } from '../../activity/calendar/index';
import { readTask } from '../../activity/tasks/index';
import type { Row } from '../../platform/database/schema.generated';
import { writingAt } from '../../platform/work/work';

const mostPlanned = 5;
/** What people said and did; what the system noted of it is in the journal. */
const said = journalKinds.filter((kind) => kind !== 'system');

/** Everything the walk shows for one item, with the next step already proposed for every outcome of its channel. */
export async function readWalkItem(
  services: Services,
  who: SignedIn,
  query: z.output<typeof walkQuery>,
): Promise<WalkItem> {
  const { database, settings, calendars, clock } = services;
  const asked = query.taskId === undefined ? null : await readTask(database, query.taskId);
  const contactId = query.contactId ?? asked?.contactId;
  if (!contactId) throw new Problem('not-found');
  const contact = await readContact(database, contactId);
  const planned = await readPlanned(database, contactId, who.id);
  const task = asked ?? (await likelyTask(services, who, query, planned));
  const channel = query.channel ?? task?.channel ?? 'call';
  const dealId = query.dealId ?? task?.dealId ?? (await likelyDeal(database, contactId));
  const [deal] =
    dealId === null
      ? []
      : await readDealRows(database, 'd.id = :id', { id: bytesOf(dealId) }, readAt(services, who));
  const { entries } = await readJournal(database, { contactId, kinds: [...said], limit: 6 });
  const attempts = new Map(contact.attempts.map(({ channel: tried, tries }) => [tried, tries]));
  const { outcomes, checklists, round, organisation } = await settings.read(database);
  const tries = [...attempts.values()].reduce((sum, each) => sum + each, 1);
  const [tallies, ownHours, standings, odds, minutesOf] = await Promise.all([
    readAnswerRates(database),
    readOwnHours(database, contactId, clock.now()),
    readStandings(database),
    readOdds(database, tries),
    readMinutes(database, who.id, round.minutes),
  ]);
  const group = standings.find(({ id }) => id === contact.standingId)?.group ?? 'prospect';
  const takes = ofChannels((_, each) => minutesOf(each, contactId));
  const facts: Omit<ProposalFacts, 'outcome'> = {
    contact: calendars.of({ country: contact.country, zone: contact.zone }, organisation),
    now: clock.now(),
    attempts: new Map(attempts).set(channel, (attempts.get(channel) ?? 0) + 1),
    reachable: reachableChannels(contact),
    unwanted: new Set(contact.doNotContact.map((mark) => mark.channel)),
    rates: {
      tallies,
      group,
      own: new Map(contact.answers.map((each) => [each.channel, each])),
      ownHours,
    },
    odds,
    minutes: takes,
    runNext: task === null ? null : await nextOfRun(services, task.id, contactId),
  };
  return {
    contact,
    deal: deal ?? null,
    companyId: contact.companyId,
    channel,
    recent: entries,
    answersMost: sayAnswers(channel, [...facts.reachable], facts.rates, facts.contact),
    minutes: takes[channel],
    usualMinutes: round.minutes[channel],
    choices: outcomesOf(channel, outcomes.list).map((outcome) => ({
      outcome,
      proposal: proposeNextStep({ ...facts, outcome }),
    })),
    hasOpenDeal: deal?.status === 'open' || (await likelyDeal(database, contactId)) !== null,
    asksWhetherHeld: asksWhetherHeld(channel),
    checklist: checklists[channel] ?? [],
    task: task?.state === 'open' ? { id: task.id, version: task.version } : null,
    planned,
    appointment: task === null ? null : await meetingOf(database, task.id),
  };
}

/** When and where they meet, and who else comes. */
async function meetingOf(db: Queryable, taskId: string): Promise<WalkItem['appointment']> {
  const found = await appointmentOf(db, taskId);
  if (found === null) return null;
  const { startsAt, endsAt, place, note, guests } = found;
  return { startsAt, endsAt, place, note, guests: guests.map(({ contactId: id, name }) => ({ id, name })) };
}

/** What was planned on the channel and is due: most likely what is being logged. */
async function likelyTask(
  services: Services,
  who: SignedIn,
  { planned: wanted, channel = 'call' }: z.output<typeof walkQuery>,
  planned: WalkItem['planned'],
) {
  if (wanted === 'none') return null;
  const today = todayOf(services, who);
  const due = planned.find((each) => each.channel === channel && each.dueOn <= today);
  return due === undefined ? null : readTask(services.database, due.id);
}

async function readPlanned(db: Queryable, contactId: string, ownerId: string): Promise<WalkItem['planned']> {
  const rows = await db.rows<Row<'task', 'id' | 'channel' | 'purpose' | 'due_on'>>(
    `SELECT id, channel, purpose, due_on FROM task
      WHERE contact_id = :contact AND owner_id = :owner AND state = 'open' AND NOT is_automatic
      ORDER BY due_on, id LIMIT ${mostPlanned}`,
    { contact: bytesOf(contactId), owner: bytesOf(ownerId) },
  );
  return rows.map((row) => ({
    id: idOf<TaskId>(row.id),
    channel: row.channel as Channel,
    purpose: row.purpose,
    dueOn: row.due_on,
  }));
}

function reachableChannels(contact: WalkItem['contact']): Set<Channel> {
  const forbidden = new Set(contact.doNotContact.map((mark) => mark.channel));
  const has = (needs: 'phone' | 'email' | null) => needs === null || contact[needs] !== null;
  return new Set(channelsThat(({ needs }) => has(needs)).filter((channel) => !forbidden.has(channel)));
}

/** What the task's cadence would do after an outcome that lets it go on: the transition is computed, not carried out. */
async function nextOfRun(
  services: Services,
  taskId: string,
  contactId: string,
): Promise<ProposalFacts['runNext']> {
  const { database, clock } = services;
  const [row] = await database.rows<Row<'task', 'run_id'>>('SELECT run_id FROM task WHERE id = :id', {
    id: bytesOf(taskId),
  });
  if (!row?.run_id) return null;
  const stored = (await readRunsOf(database, contactId, 'active')).find((run) =>
    bytesOf(run.id).equals(row.run_id!),
  );
  if (!stored) return null;
  const setting = await settingOfRun(
    { ...writingAt(database, clock.now()), services, settings: () => services.settings.read(database) },
    stored,
  );
  const done = {
    id: 'proposal',
    at: clock.now(),
    kind: 'step-done',
    step: stored.run.step,
    counts: 'attempt',
    endsRun: false,
    words: '',
  } as const;
  const { effects } = advance(stored.run, done, { ...setting, definition: stored.definition });
  const next = effects.find((effect) => effect.kind === 'create-task');
  if (!next) return null;
  const words = $localize`${stored.cadenceName}:cadenceName:, step ${next.step + 1}:step: of ${stored.definition.steps.length}:length:: ${next.purpose}:purpose:`;
  return { channel: next.channel, on: next.on, words };
}
