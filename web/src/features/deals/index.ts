export { DealDialogs, type Closing } from './deal-dialogs';
export { DealPicker } from './deal-picker';
export { DealProgress } from './deal-progress';
export { DealRows } from './deal-rows';
export { DealTabs } from './deal-tabs';
export { DealWords } from './deal-words';
export { LineEditor, lineOf, typedLineOf, type TypedLine } from './line-editor';
export { StageField } from './stage-field';
export { firstStepControls, FirstStepFields, nextOf } from './first-step';
