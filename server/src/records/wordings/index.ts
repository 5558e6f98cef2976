export { assertMayRelease, recordWording, type Recorded } from './record-wording';
