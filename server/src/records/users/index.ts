export { usersFeature } from './feature';
export { assertMayChange, dayOwner, mayChange } from './rights';
export { cookieName, openSession, whoIs, type SignedIn } from './session';
export { demoPassword } from './session.routes';
export { todayOf } from './today';
export { addUser, readPerson } from './users';
