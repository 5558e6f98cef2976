export { tellOfFailure } from './failed-jobs';
export { jobsRoutes } from './jobs.routes';
