import type { Feature } from '../../platform/feature';
import { mailReportJob, mailReportKind } from './mail-report';
import { mondayJob, mondayKind, mondayMailings } from './mailings';
import { numbersRoutes } from './numbers.routes';

export const numbersFeature = {
  name: 'numbers',
  routes: numbersRoutes,
  jobs: (services) => ({ [mailReportKind]: mailReportJob(services), [mondayKind]: mondayJob }),
  daily: mondayMailings,
} satisfies Feature;
