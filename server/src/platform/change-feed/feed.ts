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
interface Pace {
  readonly everyMillis: number;
  readonly togetherMillis: number;
  /** After so long without an answer of the database something may have been missed; less than what is looked back. */
  readonly blindMillis: number;
}

const usualPace: Pace = { everyMillis: 700, togetherMillis: 4000, blindMillis: 8000 };
/** An event is written last in its transaction; a commit slower than this would be missed by open browsers until they reload. */
const overlapSeconds = 10;

/**
 * Reads the events of all servers on one database and hands each on once, as a notice of what changed. Polls only while somebody listens;
 * `poke` after a local commit makes own changes arrive at once. Relies on event_told.
 */
export class ChangeFeed {
  private readonly emitter = new EventEmitter().setMaxListeners(0);
  private timer: NodeJS.Timeout | undefined;
  private seen: ReadonlySet<string> = new Set();
  private readAt = performance.now();
  private reading: Promise<void> = Promise.resolve();

  constructor(
    private readonly database: Database,
    private readonly concerned: Concerned,
    private readonly pace: Pace = usualPace,
  ) {}

  /** Others' changes are told together, at most so often. */
  get togetherMillis(): number {
    return this.pace.togetherMillis;
  }

  /** @param missed called when changes may have been missed: what is shown must be read again */
  listen(hear: (notice: StampedNotice) => void, missed: () => void = () => undefined): () => void {
    this.emitter.on('notice', hear);
    this.emitter.on('missed', missed);
    if (this.timer === undefined) {
      this.reading = this.markAllSeen();
      this.timer = setInterval(() => this.poke(), this.pace.everyMillis);
    }
    return () => {
      this.emitter.off('notice', hear);
      this.emitter.off('missed', missed);
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
    this.seen = new Set();
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
    this.seen = new Set(await this.recent());
    this.readAt = performance.now();
  }

  private async read(): Promise<void> {
    const recent = await this.recent();
    const fresh = recent.filter((id) => !this.seen.has(id));
    const rows =
      fresh.length === 0
        ? []
        : await this.database.rows<EventRow>(
            `SELECT ${columns} FROM event WHERE id IN (:ids) ORDER BY at, id`,
            { ids: fresh.map((id) => bytesOf(id)) },
          );
    const notices = await this.noticesOf(rows);
    this.seen = new Set(recent);
    const wasBlind = performance.now() - this.readAt > this.pace.blindMillis;
    this.readAt = performance.now();
    // What was written meanwhile may have left the window before it was seen.
    if (wasBlind) return void this.emitter.emit('missed');
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

  /** Ids of what was written lately, by the index alone: most of it is known already. */
  private async recent(): Promise<string[]> {
    const rows = await this.database.rows<Row<'event', 'id'>>(
      `SELECT id FROM event WHERE told = 1 AND at >= NOW(3) - INTERVAL ${overlapSeconds} SECOND`,
    );
    return rows.map(({ id }) => idOf<string>(id));
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
