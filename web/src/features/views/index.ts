export { ViewsMenu } from './views-menu';
