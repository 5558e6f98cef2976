export { usersFeature } from './feature';
export { assertGoodPassword, hashPassword } from './passwords';
export {
  beginSecondFactor,
  countRecoveryCodes,
  hasSecondFactor,
  makeRecoveryCodes,
  takeCode,
  turnOff,
  turnOn,
  sealSecondFactors,
} from './second-factor';
export {
  closeSessionsOf,
  hashOfToken,
  isHttps,
  newToken,
  openSession,
  readSignedIn,
  sessionCookieName,
  tokenOf,
  whoIs,
  type SignedIn,
} from './session';
export { limitUse } from './limit-use';
export { proveOwnPassword } from './sign-in';
export { assertPassword, makeLimiters, take } from './sign-in';
export { keyOf, whoHoldsKey } from './key-holder';
export { demoPassword } from './session.routes';
export { readAt, todayOf, type ReadAt } from './today';
export { addUser, readPerson } from './users';
export { readAbsences, readStandIn } from './absences';
