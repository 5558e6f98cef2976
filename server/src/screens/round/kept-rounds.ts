import type { UserId } from '@kettle/contract';
import { languageOfRequest, localeOfRequest } from '../../platform/work/request';
import type { Services } from '../../platform/services';
import { computePriced, type Computed } from './read-round';
import { readRevision } from './revision';

/** The clock is a part of what a Round rests on: the day's free minutes run out. It is computed anew so often at least. */
const minutesKept = 5;
/** Reasons to act in all Rounds that are kept; the one read longest ago goes first. */
const mostFacts = 100_000;

interface Kept {
  readonly tag: string;
  readonly computing: Promise<Computed>;
  facts: number;
}

/**
 * Rounds as they were computed last on this server, by owner, each kept while its revision stands. Whoever asks meanwhile is answered
 * without computing, also with another filter; several who ask at once wait for one computing.
 */
export class KeptRounds {
  private readonly kept = new Map<string, Kept>();

  constructor(private readonly services: Services) {}

  /** What a reply was made of: the same tag is the same reply. The revision, the part of the hour, and how words and numbers are written. */
  async tagOf(ownerId: UserId): Promise<string> {
    const { database, clock } = this.services;
    const part = Math.floor(clock.millis() / (minutesKept * 60_000));
    return [await readRevision(database, ownerId), part, languageOfRequest(), localeOfRequest()].join('.');
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
