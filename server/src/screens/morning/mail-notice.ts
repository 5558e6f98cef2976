import * as z from 'zod';
import { sendNotice } from '../../activity/outbox/index';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';

interface ToColleague {
  readonly userId: string;
  readonly key: string;
  readonly subject: string;
  readonly text: string;
}

/** Sends a colleague a mail of the application; whoever is here no more gets none. @throws Error when it did not leave: it is tried again */
export async function mailColleague(services: Services, { userId, ...mail }: ToColleague): Promise<void> {
  const [person] = await services.database.rows<Row<'app_user', 'email'>>(
    'SELECT email FROM app_user WHERE id = :id AND deactivated_at IS NULL',
    { id: bytesOf(userId) },
  );
  if (person === undefined || services.channels.mailOut === null) return;
  if (!(await sendNotice(services, { to: person.email, ...mail }))) throw new Error('the mail did not leave');
}

/** One thing somebody is told, by mail as well; read meanwhile, it is not sent. */
export const mailNoticeJob = (services: Services): JobKind => ({
  words: $localize`telling somebody by mail`,
  effect: 'guarded',
  run: async (payload) => {
    const { id } = z.object({ id: z.uuid() }).parse(payload);
    const [row] = await services.database.rows<Row<'notification', 'user_id' | 'words' | 'path' | 'read_at'>>(
      'SELECT user_id, words, path, read_at FROM notification WHERE id = :id',
      { id: bytesOf(id) },
    );
    if (row === undefined || row.read_at !== null) return;
    await mailColleague(services, {
      userId: idOf<string>(row.user_id),
      key: `notice-${id}`,
      subject: row.words,
      text: `${row.words}\n\n${services.channels.publicOrigin}${row.path}\n`,
    });
  },
});
