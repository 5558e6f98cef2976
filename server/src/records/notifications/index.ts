export { notificationsFeature } from './feature';
export { mailNoticeKind, notify, takeNoticesBack } from './notify';
export { tellOfWhole, tellOwners } from './tell-owners';
