export { TemplatesPage } from './templates-page';
