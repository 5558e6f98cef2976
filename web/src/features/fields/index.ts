export { AnswerLine } from './answer-line';
export { CustomInputs } from './custom-inputs';
export { addCustomControls, customControls, OwnFields, readCustom } from './custom-controls';
export { PeopleWords } from './people-words';
export { plainFacts } from './plain-facts';
export { PlainInputs, plainControls, readPlain } from './plain-inputs';
export { PersonPicker } from './person-picker';
export { companyNames } from './company-names';
export { mostProposed, pickerTemplate, RecordPicker } from './record-picker';
