export { AccountsPart } from './accounts-part';
export { MyAccountPart } from './my-account';
export { SecurityPart } from './security-part';
