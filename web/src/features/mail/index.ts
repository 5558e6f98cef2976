export { openWrite } from './open-write';
