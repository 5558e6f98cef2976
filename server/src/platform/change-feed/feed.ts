import { EventEmitter } from 'node:events';
import type { ChangeNotice, ChangeTopic } from '@kettle/contract';
import type { Database } from '../database/database';
import { instantOf, sqlInstant, textsOf } from '../database/values';
import { bytesOf, idOf, idOrNull } from '../ids';
import type { Row } from '../database/schema.generated';

export interface StampedNotice extends ChangeNotice {
  /** Where the stream goes on after a lost connection. */
  readonly id: string;
  readonly byUserId: string | null;
  /** Whoever owns what changed or what that is about, owned it before, or is in its team; nobody where it belongs to nobody. */
  readonly owners: readonly string[];
}

/** People by record whom a change of it concerns; see `readConcerned`. */
export type Concerned = (
  db: Database,
  ids: readonly string[],
) => Promise<ReadonlyMap<string, readonly string[]>>;

interface EventRow extends Row<'event', 'id' | 'at' | 'record_id' | 'user_id' | 'owners'> {
  topic: ChangeTopic;
  subjects: string;
}

const columns = `id, at, topic, record_id, user_id, owners, COALESCE(JSON_EXTRACT(data, '$.subjects'), '[]') AS subjects`;
const usualPace = { everyMillis: 700, togetherMillis: 4000 };
/** An event is written last in its transaction; a commit slower than this would be missed by open browsers until they reload. */
const overlapSeconds = 10;

/**
 * Reads the events of all servers on one database and hands each on once, as a notice of what changed. Polls only while somebody listens;
 * `poke` after a local commit makes own changes arrive at once. Relies on event_told.
 */
export class ChangeFeed {
  private readonly emitter = new EventEmitter().setMaxListeners(0);
  private timer: NodeJS.Timeout | undefined;
  private seen = new Map<string, string>();
  private reading: Promise<void> = Promise.resolve();

  constructor(
    private readonly database: Database,
    private readonly concerned: Concerned,
    private readonly pace: { readonly everyMillis: number; readonly togetherMillis: number } = usualPace,
  ) {}

  /** Others' changes are told together, at most so often. */
  get togetherMillis(): number {
    return this.pace.togetherMillis;
  }

  listen(hear: (notice: StampedNotice) => void): () => void {
    this.emitter.on('notice', hear);
    if (this.timer === undefined) {
      this.reading = this.markAllSeen();
      this.timer = setInterval(() => this.poke(), this.pace.everyMillis);
    }
    return () => {
      this.emitter.off('notice', hear);
      if (this.emitter.listenerCount('notice') === 0) this.stop();
    };
  }

  poke(): void {
    if (this.timer === undefined) return;
    this.reading = this.reading.then(() => this.read()).catch(() => undefined);
  }

  /** How many hear of changes. */
  get listeners(): number {
    return this.emitter.listenerCount('notice');
  }

  /** Called when the server stops. */
  onClose(end: () => void): () => void {
    this.emitter.once('close', end);
    return () => this.emitter.off('close', end);
  }

  /** Nobody is told anything any more. */
  close(): void {
    this.emitter.emit('close');
    this.stop();
  }

  stop(): void {
    clearInterval(this.timer);
    this.timer = undefined;
    this.seen.clear();
  }

  /**
   * What came after an event, oldest first; null when it is not known. A change may be seen later than one that was written after it, by
   * some seconds: they are told again, those before the event or, where it is said when it was known, those before that moment.
   */
  async since(id: string, knownAt: string | null = null): Promise<StampedNotice[] | null> {
    const [last] = await this.database.rows<Row<'event', 'at'>>('SELECT at FROM event WHERE id = :id', {
      id: bytesOf(id),
    });
    if (!last) return null;
    const rows = await this.database.rows<EventRow>(
      `SELECT ${columns} FROM event
        WHERE told = 1 AND at >= COALESCE(:knownAt, :at) - INTERVAL ${overlapSeconds} SECOND AND id <> :id
        ORDER BY at, id LIMIT 2000`,
      { at: last.at, knownAt: knownAt === null ? null : sqlInstant(knownAt), id: bytesOf(id) },
    );
    return this.noticesOf(rows);
  }

  /** The newest change there is, to go on from, and the moment of the question by the database's clock. */
  async newest(): Promise<{ readonly id: string; readonly knownAt: string } | null> {
    const [row] = await this.database.rows<Row<'event', 'id'> & { known_at: string }>(
      'SELECT id, NOW(3) AS known_at FROM event WHERE told = 1 ORDER BY at DESC, id DESC LIMIT 1',
    );
    return row === undefined ? null : { id: idOf(row.id), knownAt: instantOf(row.known_at) };
  }

  private async markAllSeen(): Promise<void> {
    for (const row of await this.recent()) this.seen.set(idOf(row.id), row.at);
  }

  private async read(): Promise<void> {
    const rows = await this.recent();
    const fresh = rows.filter((row) => !this.seen.has(idOf(row.id)));
    const notices = await this.noticesOf(fresh);
    this.seen = new Map(rows.map((row) => [idOf<string>(row.id), row.at]));
    // Several events of one record are one notice: whoever shows it reads it again once.
    const told = new Set<string>();
    for (const notice of notices) {
      const key = `${notice.topic} ${notice.ids[0]} ${notice.byUserId}`;
      if (!told.has(key)) this.emitter.emit('notice', notice);
      told.add(key);
    }
  }

  /** One question for all of them, however many listen. */
  private async noticesOf(rows: readonly EventRow[]): Promise<StampedNotice[]> {
    const notices = rows.map(noticeOf);
    const people = await this.concerned(this.database, [...new Set(notices.flatMap(({ ids }) => ids))]);
    return notices.map((notice) => ({
      ...notice,
      owners: [...new Set([...notice.owners, ...notice.ids.flatMap((id) => people.get(id) ?? [])])],
    }));
  }

  private recent(): Promise<EventRow[]> {
    return this.database.rows<EventRow>(
      `SELECT ${columns} FROM event
        WHERE told = 1 AND at >= NOW(3) - INTERVAL ${overlapSeconds} SECOND ORDER BY at, id`,
    );
  }
}

function noticeOf(row: EventRow): StampedNotice {
  return {
    id: idOf(row.id),
    topic: row.topic,
    ids: [...new Set([idOf<string>(row.record_id), ...textsOf(row.subjects)])],
    byUserId: idOrNull(row.user_id),
    owners: textsOf(row.owners),
  };
}
