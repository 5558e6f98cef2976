export { notificationsFeature } from './feature';
export { notify } from './notify';
