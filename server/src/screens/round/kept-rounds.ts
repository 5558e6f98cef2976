import type { Round, roundFilters, UserId } from '@kettle/contract';
import type * as z from 'zod';
import type { HeavyTask } from '../../platform/heavy';
import { languageOfRequest, localeOfRequest, sayingAs, type Saying } from '../../platform/work/request';
import type { Services } from '../../platform/services';
import { type KeptPlace, putByHand } from '@kettle/core/round';
import { computePriced, computeRound, rowsOf, showRound, type Computed } from './read-round';
import { readRevision } from './revision';

/** The clock is a part of what a Round rests on: the day's free minutes run out. It is computed anew so often at least. */
const minutesKept = 5;
/** Reasons to act in all Rounds that are kept; the one read longest ago goes first. */
const mostFacts = 100_000;

/** What a reply is made of: the same tag is the same reply. The revision, the part of the hour, and how words and numbers are written. */
export async function tagOfRound({ database, clock }: Services, ownerId: UserId): Promise<string> {
  const part = Math.floor(clock.millis() / (minutesKept * 60_000));
  return [await readRevision(database, ownerId), part, languageOfRequest(), localeOfRequest()].join('.');
}

interface Asked {
  readonly ownerId: UserId;
  readonly tag: string;
  readonly filters: z.output<typeof roundFilters>;
  readonly saying: Saying;
}

const task = 'read-round';

/** Somebody's Round as JSON, ready to be sent: a thread beside the one that answers computes it, keeps it and writes it out. */
export function readKeptRound(
  { quick }: Services,
  { ownerId, tag, filters }: Omit<Asked, 'saying'>,
): Promise<string> {
  const saying = { language: languageOfRequest(), locale: localeOfRequest() };
  return quick.run(task, { ownerId, tag, filters, saying } satisfies Asked) as Promise<string>;
}

/** The same, read. */
export async function readRoundOf(
  services: Services,
  ownerId: UserId,
  filters: Asked['filters'],
): Promise<Round> {
  const tag = await tagOfRound(services, ownerId);
  return JSON.parse(await readKeptRound(services, { ownerId, tag, filters })) as Round;
}

const rounds = new WeakMap<Services['database'], KeptRounds>();

function keptBy(services: Services): KeptRounds {
  const kept = rounds.get(services.database) ?? new KeptRounds(services);
  rounds.set(services.database, kept);
  return kept;
}

/** What the thread does. */
const readRound: HeavyTask = (services, input) => {
  const asked = input as Asked;
  const { filters, saying } = asked;
  const kept = keptBy(services);
  return sayingAs(saying, async () =>
    JSON.stringify(await showRound(services.database, await kept.readDay(asked), filters)),
  );
};

const placeTask = 'place-in-round';

interface AskedPlace extends Pick<Asked, 'ownerId' | 'tag'> {
  readonly asked: Parameters<typeof putByHand>[1];
}

/** All places by hand of somebody's day once a row is put elsewhere; null when the Round has no such rows. */
export function planPlaces(
  { quick }: Services,
  asking: AskedPlace,
): Promise<{ places: KeptPlace[] | null; fixed: boolean }> {
  return quick.run(placeTask, asking) as ReturnType<typeof planPlaces>;
}

const planPlacesInThread: HeavyTask = async (services, input) => {
  const { ownerId, tag, asked } = input as AskedPlace;
  const { cut } = await keptBy(services).read(ownerId, tag);
  const rows = rowsOf(cut);
  const fixed = rows.some(({ lead }) => lead.key === asked.key && lead.fixedAfterMinutes !== null);
  return { places: putByHand(rows, asked), fixed };
};
export const quickRoundTasks = { [task]: readRound, [placeTask]: planPlacesInThread };

interface Kept {
  readonly tag: string;
  readonly computing: Promise<Computed>;
  facts: number;
}

/**
 * Rounds as they were computed last by this server, by owner, each kept while its revision stands. Whoever asks meanwhile is answered
 * without computing, also with another filter; several who ask at once wait for one computing.
 */
class KeptRounds {
  private readonly kept = new Map<string, Kept>();

  constructor(private readonly services: Services) {}

  /** The day that is asked for: today's Round is kept, tomorrow's is computed each time. */
  async readDay({ ownerId, tag, filters }: Asked): Promise<Computed> {
    const today = await this.read(ownerId, tag);
    if (filters.due !== 'tomorrow') return today;
    return computeRound(this.services.database, this.services, ownerId, { tomorrowWithout: today.facts });
  }

  /** The Round of a tag; one that was computed before its tag was read is never older than the tag says. */
  read(ownerId: UserId, tag: string): Promise<Computed> {
    const known = this.kept.get(ownerId);
    this.kept.delete(ownerId);
    if (known?.tag === tag) {
      this.kept.set(ownerId, known);
      return known.computing;
    }
    const computing = computePriced(this.services, ownerId);
    const kept: Kept = { tag, computing, facts: 0 };
    this.kept.set(ownerId, kept);
    computing.then(
      ({ facts }) => {
        kept.facts = facts.size;
        this.forgetOldest();
      },
      () => {
        if (this.kept.get(ownerId) === kept) this.kept.delete(ownerId);
      },
    );
    return computing;
  }

  private forgetOldest(): void {
    let facts = [...this.kept.values()].reduce((sum, each) => sum + each.facts, 0);
    for (const [ownerId, each] of this.kept) {
      if (facts <= mostFacts) return;
      this.kept.delete(ownerId);
      facts -= each.facts;
    }
  }
}
