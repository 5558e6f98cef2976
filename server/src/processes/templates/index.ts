export { templatesFeature } from './feature';
export { fillFor, listTemplates, readText } from './template-rows';
export { changeSnippet, changeTemplate, createSnippet, createTemplate } from './save-text';
