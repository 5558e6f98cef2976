import type { UserId } from '@kettle/contract';
import { localDate, localMoment } from '@kettle/core/time';
import * as z from 'zod';
import type { Feature } from '../../platform/feature';
import { idOf } from '../../platform/ids';
import { oncePerDay } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { usualHours } from '../../records/settings/index';
import { learnChances } from './chances';
import { learnMinutes } from './learned-minutes';
import { quickRoundTasks } from './kept-rounds';
import { keepPricesOf } from './read-round';
import { moveAllRounds } from './revision';
import { roundRoutes } from './round.routes';
import type { Row } from '../../platform/database/schema.generated';

const closeDayKind = 'close-round-day';
const ofUser = z.object({ userId: z.uuid() });

/** At the end of a person's day: what arrived on it, so that it is expected again. */
const closeDay: JobKind = {
  words: $localize`closing the day of a Round`,
  effect: 'database',
  run: (w, payload) => keepPricesOf(w, ofUser.parse(payload).userId as UserId),
};

const learnKind = 'learn-chances';

/** Each night: how often acting brings what is at stake, and how fast that falls, from the organisation's own history. */
const learn: JobKind = {
  words: $localize`learning what waiting costs and how long acts take`,
  effect: 'database',
  lane: 'bulk',
  run: async (w) => {
    const { organisation, round } = await w.settings();
    const { homeCountry: country, homeZone: zone } = organisation;
    await learnChances(w, w.now, w.services.calendars.of({ country, zone, hours: usualHours }, organisation));
    await learnMinutes(w, w.now, round.minutes);
    await moveAllRounds(w);
  },
};

export const roundFeature = {
  name: 'round',
  routes: roundRoutes,
  quick: quickRoundTasks,
  jobs: () => ({ [closeDayKind]: closeDay, [learnKind]: learn }),
  daily: async ({ database, calendars, settings }, now) => {
    const { organisation } = await settings.read(database);
    const users = await database.rows<Row<'app_user', 'id' | 'zone' | 'country'>>(
      'SELECT id, zone, country FROM app_user ORDER BY id',
    );
    const closings = users.map(({ id, zone, country }) => {
      const userId = idOf<UserId>(id);
      const on = localDate(now, zone);
      return {
        kind: closeDayKind,
        dedupeKey: `${closeDayKind}:${userId}:${on}`,
        payload: { userId },
        dueAt: localMoment(on, calendars.of({ country, zone }, organisation).endMinute, zone),
      };
    });
    return [...closings, oncePerDay(learnKind, now)];
  },
} satisfies Feature;
