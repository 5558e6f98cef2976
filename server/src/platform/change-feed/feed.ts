import { EventEmitter } from 'node:events';
import type { ChangeNotice, ChangeTopic } from '@kettle/contract';
import type { Database, Queryable } from '../database/database';
import { bytesOf, idOf, idOrNull, newId, type IdBytes } from '../ids';

/** Notes inside the writing transaction what changed, so that open browsers hear of it once it is committed. */
export function noteChange(
  tx: Queryable,
  topic: ChangeTopic,
  recordId: string,
  byUserId: string | null,
): Promise<void> {
  return noteChanges(tx, [[topic, recordId]], byUserId);
}

/** The same for several records in one statement; what is null was not concerned. */
export async function noteChanges(
  tx: Queryable,
  changed: readonly (readonly [ChangeTopic, string | null])[],
  byUserId: string | null,
): Promise<void> {
  const rows = changed.flatMap(([topic, id]) =>
    id === null ? [] : [[bytesOf(newId()), topic, bytesOf(id), bytesOf(byUserId)]],
  );
  if (rows.length > 0)
    await tx.change('INSERT INTO change_notice (id, topic, record_id, by_user_id) VALUES :rows', {
      // A change by nobody is NULL, which the driver takes though its type does not say so.
      rows: rows as (string | Buffer)[][],
    });
}

export interface StampedNotice extends ChangeNotice {
  /** Where the stream goes on after a lost connection. */
  readonly id: string;
}

interface NoticeRow {
  id: IdBytes;
  recorded_at: string;
  topic: ChangeTopic;
  record_id: IdBytes;
  by_user_id: IdBytes | null;
}

const columns = 'id, recorded_at, topic, record_id, by_user_id';
/** A transaction commits after it noted; anything slower than this would be missed by open browsers until they reload. */
const overlapSeconds = 10;

/**
 * Reads the notices of all servers on one database and hands each on once. Polls only while somebody listens;
 * `poke` after a local commit makes own changes arrive at once.
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

  stop(): void {
    clearInterval(this.timer);
    this.timer = undefined;
    this.seen.clear();
  }

  /** What came after a notice, oldest first; null when the notice is not kept any more. */
  async since(id: string): Promise<StampedNotice[] | null> {
    const [last] = await this.database.rows<{ recorded_at: string }>(
      'SELECT recorded_at FROM change_notice WHERE id = :id',
      { id: bytesOf(id) },
    );
    if (!last) return null;
    const rows = await this.database.rows<NoticeRow>(
      `SELECT ${columns} FROM change_notice
        WHERE recorded_at >= :at - INTERVAL ${overlapSeconds} SECOND AND id <> :id
        ORDER BY recorded_at, id LIMIT 2000`,
      { at: last.recorded_at, id: bytesOf(id) },
    );
    return rows.map(noticeOf);
  }

  /** The newest change there is, to go on from. */
  async newest(): Promise<string | null> {
    const [row] = await this.database.rows<{ id: IdBytes }>(
      'SELECT id FROM change_notice ORDER BY recorded_at DESC, id DESC LIMIT 1',
    );
    return row === undefined ? null : idOf(row.id);
  }

  private async markAllSeen(): Promise<void> {
    for (const row of await this.recent()) this.seen.set(idOf(row.id), row.recorded_at);
  }

  private async read(): Promise<void> {
    const rows = await this.recent();
    const stillRecent = new Map(rows.map((row) => [idOf<string>(row.id), row.recorded_at]));
    for (const row of rows) {
      const notice = noticeOf(row);
      if (!this.seen.has(notice.id)) this.emitter.emit('notice', notice);
    }
    this.seen = stillRecent;
  }

  private recent(): Promise<NoticeRow[]> {
    return this.database.rows<NoticeRow>(
      `SELECT ${columns} FROM change_notice
        WHERE recorded_at >= NOW(3) - INTERVAL ${overlapSeconds} SECOND ORDER BY recorded_at, id`,
    );
  }
}

function noticeOf(row: NoticeRow): StampedNotice {
  return {
    id: idOf(row.id),
    topic: row.topic,
    recordId: idOf(row.record_id),
    byUserId: idOrNull(row.by_user_id),
  };
}
