import { EventEmitter } from 'node:events';
import type { ChangeNotice, ChangeTopic } from '@kettle/contract';
import type { Database } from '../database/database';
import { textsOf } from '../database/values';
import { bytesOf, idOf, idOrNull } from '../ids';
import type { Row } from '../database/schema.generated';

export interface StampedNotice extends ChangeNotice {
  /** Where the stream goes on after a lost connection. */
  readonly id: string;
  /** Whoever owns what changed, or owned it before; nobody where it belongs to nobody. */
  readonly owners: readonly string[];
}

interface EventRow extends Row<'event', 'id' | 'at' | 'record_id' | 'user_id' | 'owners'> {
  topic: ChangeTopic;
}

const columns = 'id, at, topic, record_id, user_id, owners';
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
    private readonly everyMillis = 700,
  ) {}

  listen(hear: (notice: StampedNotice) => void): () => void {
    this.emitter.on('notice', hear);
    if (this.timer === undefined) {
      this.reading = this.markAllSeen();
      this.timer = setInterval(() => this.poke(), this.everyMillis);
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

  /** What came after an event, oldest first; null when it is not known. */
  async since(id: string): Promise<StampedNotice[] | null> {
    const [last] = await this.database.rows<Row<'event', 'at'>>('SELECT at FROM event WHERE id = :id', {
      id: bytesOf(id),
    });
    if (!last) return null;
    const rows = await this.database.rows<EventRow>(
      `SELECT ${columns} FROM event
        WHERE told = 1 AND at >= :at - INTERVAL ${overlapSeconds} SECOND AND id <> :id
        ORDER BY at, id LIMIT 2000`,
      { at: last.at, id: bytesOf(id) },
    );
    return rows.map(noticeOf);
  }

  /** The newest change there is, to go on from. */
  async newest(): Promise<string | null> {
    const [row] = await this.database.rows<Row<'event', 'id'>>(
      'SELECT id FROM event WHERE told = 1 ORDER BY at DESC, id DESC LIMIT 1',
    );
    return row === undefined ? null : idOf(row.id);
  }

  private async markAllSeen(): Promise<void> {
    for (const row of await this.recent()) this.seen.set(idOf(row.id), row.at);
  }

  private async read(): Promise<void> {
    const rows = await this.recent();
    const stillRecent = new Map(rows.map((row) => [idOf<string>(row.id), row.at]));
    // Several events of one record are one notice: whoever shows it reads it again once.
    const told = new Set<string>();
    for (const notice of rows.map(noticeOf)) {
      if (this.seen.has(notice.id)) continue;
      const key = `${notice.topic} ${notice.recordId} ${notice.byUserId}`;
      if (!told.has(key)) this.emitter.emit('notice', notice);
      told.add(key);
    }
    this.seen = stillRecent;
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
    recordId: idOf(row.record_id),
    byUserId: idOrNull(row.user_id),
    owners: textsOf(row.owners),
  };
}
