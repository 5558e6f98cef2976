export interface Event {
  readonly at: string;
  readonly kind: string;
  readonly who: string;
  readonly words: string;
  /** What the far end knows it by: a Message-ID, a key. */
  readonly key: string;
  /** What a mail said, as they read it. */
  readonly text: string;
}

const mostKept = 2000;

/** What reached the people outside and what they did, latest first; for the small page and for counting. */
export class Happened {
  private events: Event[] = [];

  note(kind: string, who: string, words: string, key = '', text = ''): void {
    this.events = [{ at: new Date().toISOString(), kind, who, words, key, text }, ...this.events].slice(
      0,
      mostKept,
    );
  }

  list(): readonly Event[] {
    return this.events;
  }
}
