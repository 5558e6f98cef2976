export { usersFeature } from './feature';
export { cookieName, openSession, readSignedIn, whoIs, type SignedIn } from './session';
export { demoPassword } from './session.routes';
export { todayOf } from './today';
export { addUser, readPerson } from './users';
