export { assertReadable, checkRequest } from './check-request';
export { assertMayChange, dayOwner, mayChange } from './may-change';
export { assertMayShare } from './may-share';
export { readConcerned } from './concerned';
export { isLimited, reachParameters, withinReach, type Owned } from './reach-sql';
export { readableIds } from './readable-ids';
export { readReach } from './read-reach';
export { readTeamOf, type TeamMate } from './team';
