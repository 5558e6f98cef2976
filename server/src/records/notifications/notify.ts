import type { NoticeKind } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, newId } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { Work } from '../../platform/work/work';
import { afterQuietHours } from './quiet-hours';

export const mailNoticeKind = 'mail-notice';

/** What cannot wait until somebody looks: unless the caller says otherwise. */
const usuallyImportant: ReadonlySet<NoticeKind> = new Set<NoticeKind>([
  'answer',
  'mention',
  'time',
  'trouble',
]);

/**
 * Tells people something inside the caller's transaction, with the place where a click leads, as each wants to be told of such things: not at
 * all, of what is important alone, by mail as well.
 * @param isImportant left out, as its kind usually is
 */
export async function notify(
  w: Work,
  kind: NoticeKind,
  userIds: readonly string[],
  words: string,
  path: string,
  isImportant = usuallyImportant.has(kind),
): Promise<void> {
  const people = [...new Set(userIds)];
  const choices = await readChoices(w, people, kind);
  for (const userId of people) {
    const choice = choices.get(userId);
    // Whoever is named is always told.
    const isMention = kind === 'mention';
    if (!isMention && (choice?.level === 'none' || (choice?.level === 'important' && !isImportant))) continue;
    const id = newId<string>();
    await w.change(
      `INSERT INTO notification (id, user_id, words, path, created_at, kind, is_important, set_id)
       VALUES (:id, :user, :words, :path, :now, :kind, :important, :set)`,
      {
        ...{
          id: bytesOf(id),
          user: bytesOf(userId),
          words: words.slice(0, 300),
          path,
          now: sqlInstant(w.now),
        },
        ...{ kind, important: isImportant ? 1 : 0, set: bytesOf(w.wholeId) },
      },
    );
    if (choice?.by_mail === 1)
      await enqueue(w, {
        kind: mailNoticeKind,
        dedupeKey: `${mailNoticeKind}:${id}`,
        payload: { id },
        dueAt: await afterQuietHours(w, userId, w.now),
      });
    tellBell(w, userId);
  }
}

/** Open pages of somebody read their notices again at once, whoever wrote one. */
function tellBell(w: Work, userId: string): void {
  w.publish({ kind: 'noted', topic: 'notification', recordId: userId, owners: [userId] });
}

/** What was undone was never told: its notices go, whoever had them. */
export async function takeNoticesBack(w: Work, setIds: readonly string[]): Promise<void> {
  if (setIds.length === 0) return;
  const sets = setIds.map((id) => bytesOf(id));
  const told = await w.rows<Row<'notification', 'user_id'>>(
    'SELECT DISTINCT user_id FROM notification WHERE set_id IN (:sets)',
    { sets },
  );
  if (told.length === 0) return;
  await w.change('DELETE FROM notification WHERE set_id IN (:sets)', { sets });
  for (const { user_id: id } of told) tellBell(w, idOf<string>(id));
}

type Choice = Row<'told_choice', 'user_id' | 'level' | 'by_mail'>;

async function readChoices(
  db: Queryable,
  people: readonly string[],
  kind: NoticeKind,
): Promise<ReadonlyMap<string, Choice>> {
  if (people.length === 0) return new Map();
  const rows = await db.rows<Choice>(
    'SELECT user_id, level, by_mail FROM told_choice WHERE kind = :kind AND user_id IN (:people) ORDER BY user_id',
    { kind, people: people.map((id) => bytesOf(id)) },
  );
  return new Map(rows.map((row) => [idOf<string>(row.user_id), row]));
}
