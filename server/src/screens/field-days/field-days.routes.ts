import { localDate } from '@kettle/core/time';
import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { dayOwner } from '../../records/rights/index';
import { changeSetting } from '../../records/settings/index';
import { readPerson } from '../../records/users/index';
import { readFieldDay } from './read-field-day';
import { locate, planDay, setStart } from './write-field-day';

type Names =
  'fieldDay' | 'planFieldDay' | 'locateSite' | 'changeMyStart' | 'roadSettings' | 'changeRoadSettings';

export function fieldDaysRoutes(services: Services): Pick<Handlers, Names> {
  const { database, settings, clock } = services;
  return {
    fieldDay: async ({ query, who }) => {
      const ownerId = dayOwner(who, query.owner);
      const { zone } = await readPerson(database, ownerId);
      const on = query.on ?? localDate(clock.now(), zone);
      return readFieldDay(services, { ...query, on, ownerId });
    },
    planFieldDay: async ({ body, who }) => {
      await work(services, who, (w) => planDay(w, body));
      return { ok: true };
    },
    locateSite: async ({ body, who }) => {
      await work(services, who, (w) => locate(w, body));
      return { ok: true };
    },
    changeMyStart: async ({ body, who }) => {
      await work(services, who, (w) => setStart(w, body));
      return { ok: true };
    },
    roadSettings: async () => (await settings.read(database)).roads,
    changeRoadSettings: ({ body, who }) => changeSetting(services, who, { name: 'roads', body }),
  };
}
