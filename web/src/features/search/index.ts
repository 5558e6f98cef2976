export { Finding, recordOf } from './finding';
