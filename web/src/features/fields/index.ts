export { AnswerLine } from './answer-line';
export { CustomInputs } from './custom-inputs';
export { addCustomTexts, readCustomTexts } from './custom-texts';
export { PeopleWords } from './people-words';
export { plainFacts } from './plain-facts';
export { PlainInputs, plainTexts, readPlainTexts } from './plain-inputs';
export { PersonPicker } from './person-picker';
