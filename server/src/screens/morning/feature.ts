import { isWorkingDay, localDate, localMoment } from '@kettle/core/time';
import { plainDate, userId } from '@kettle/contract';
import * as z from 'zod';
import type { Row } from '../../platform/database/schema.generated';
import type { Feature } from '../../platform/feature';
import { bytesOf, idOf } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { mailNoticeKind } from '../../records/notifications/index';
import { readPerson } from '../../records/users/index';
import { tellMorning } from './tell-morning';
import { mailColleague, mailNoticeJob } from './mail-notice';
import { writeMorningMail } from './morning-mail';

const noticesKind = 'morning-notices';
const mailKind = 'morning-mail';
const ofDay = z.object({ userId, on: plainDate });
const ofMail = ofDay.extend({ minute: z.int() });

/** What comes up on a day by itself: people gone quiet, renewals, parked deals that wake. */
const notices: JobKind = {
  words: $localize`telling somebody what a day brings`,
  effect: 'database',
  run: (w, payload) => {
    const day = ofDay.parse(payload);
    return tellMorning(w, day.userId, day.on);
  },
};

/** Later than this many minutes the morning is over, and nobody needs its mail. */
const mostLate = 180;

const mail = (services: Services): JobKind => ({
  words: $localize`the morning's mail`,
  effect: 'guarded',
  run: async (payload) => {
    const { userId: id, on, minute } = ofMail.parse(payload);
    const { database, clock } = services;
    const person = await readPerson(database, id);
    const [asked] = await database.rows<Row<'app_user', 'digest_minute'>>(
      'SELECT digest_minute FROM app_user WHERE id = :id',
      { id: bytesOf(id) },
    );
    const isOver = clock.millis() > Date.parse(localMoment(on, minute + mostLate, person.zone));
    // Another time was chosen meanwhile, or none.
    if (asked?.digest_minute !== minute || isOver) return;
    await mailColleague(services, {
      userId: id,
      key: `morning-${id}-${on}`,
      ...(await writeMorningMail(services, id, on)),
    });
  },
});

export const morningFeature = {
  name: 'morning',
  jobs: (services) => ({
    [noticesKind]: notices,
    [mailKind]: mail(services),
    [mailNoticeKind]: mailNoticeJob(services),
  }),
  daily: async ({ database, calendars, settings }, now) => {
    const { organisation } = await settings.read(database);
    const users = await database.rows<Row<'app_user', 'id' | 'digest_minute'>>(
      'SELECT id, digest_minute FROM app_user WHERE deactivated_at IS NULL ORDER BY id',
    );
    const jobs = await Promise.all(
      users.map(async ({ id, digest_minute: minute }) => {
        const person = await readPerson(database, idOf(id));
        const key = idOf<string>(id);
        const on = localDate(now, person.zone);
        if (!isWorkingDay(on, calendars.of(person, organisation))) return [];
        const at = (of: number) => localMoment(on, of, person.zone);
        const told = {
          kind: noticesKind,
          dedupeKey: `${noticesKind}:${key}:${on}`,
          payload: { userId: key, on },
          dueAt: at(person.hours.start),
        };
        if (minute === null) return [told];
        const mailed = {
          kind: mailKind,
          dedupeKey: `${mailKind}:${key}:${on}:${minute}`,
          payload: { userId: key, on, minute },
          dueAt: at(minute),
        };
        return [told, mailed];
      }),
    );
    return jobs.flat();
  },
} satisfies Feature;
