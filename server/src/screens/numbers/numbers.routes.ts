import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { readCalibration } from '../../processes/forecast/index';
import { todayOf } from '../../records/users/index';
import { readForecast } from './forecast';

export function numbersRoutes(services: Services): Pick<Handlers, 'forecast' | 'calibration'> {
  return {
    forecast: ({ who, body }) => readForecast(services, who, body),
    calibration: ({ who, query }) =>
      readCalibration(services.database, todayOf(services, who), query.pipelineId ?? null),
  };
}
