export { notificationsFeature } from './feature';
export { mailNoticeKind, notify } from './notify';
