import type { ChangeTopic, OthersNotice } from '@kettle/contract';
import type { StampedNotice } from './feed';

/** More records than these are not named: whoever shows any reads again. */
const mostNamed = 100;

/** What changed of others', gathered until it is told. */
export class Others {
  private readonly topics = new Map<ChangeTopic, Set<string>>();
  private last = '';
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly millis: number,
    private readonly tell: (id: string, notice: OthersNotice) => void,
  ) {}

  add({ id, topic, ids }: StampedNotice): void {
    const known = this.topics.get(topic) ?? new Set();
    this.topics.set(topic, known);
    for (const each of ids) known.add(each);
    this.last = id;
    this.timer ??= setTimeout(() => this.flush(), this.millis);
  }

  stop(): void {
    clearTimeout(this.timer);
  }

  private flush(): void {
    this.timer = undefined;
    const notice: OthersNotice = {};
    for (const [topic, ids] of this.topics) notice[topic] = ids.size > mostNamed ? null : [...ids];
    this.topics.clear();
    this.tell(this.last, notice);
  }
}
