import type { roundFilters, UserId } from '@kettle/contract';
import type * as z from 'zod';
import type { HeavyTask } from '../../platform/heavy';
import { languageOfRequest, localeOfRequest, sayingAs, type Saying } from '../../platform/work/request';
import type { Services } from '../../platform/services';
import { computePriced, showRound, type Computed } from './read-round';
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

const rounds = new WeakMap<Services['database'], KeptRounds>();

/** What the thread does. */
const readRound: HeavyTask = (services, input) => {
  const { ownerId, tag, filters, saying } = input as Asked;
  const kept = rounds.get(services.database) ?? new KeptRounds(services);
  rounds.set(services.database, kept);
  return sayingAs(saying, async () =>
    JSON.stringify(await showRound(services.database, await kept.read(ownerId, tag), filters)),
  );
};
export const quickRoundTasks = { [task]: readRound };

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
