export { templatesFeature } from './feature';
export { fillFor, listTemplates, readText } from './template-rows';
