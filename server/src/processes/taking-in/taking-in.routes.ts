import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { readWriter } from './read-writer';
import { takeFrom } from './take-from';
import { takeIn } from './take-in';

type Names = 'getMailWriter' | 'takeFromMail' | 'takeMailIn';

export const takingInRoutes = (services: Services): Pick<Handlers, Names> => ({
  getMailWriter: ({ params, who }) => readWriter(services, who, params.id),
  takeFromMail: ({ params, body, who }) => work(services, who, (w) => takeFrom(w, params.id, body)),
  takeMailIn: ({ params, body, who }) => work(services, who, (w) => takeIn(w, params.id, body)),
});
