export { CustomInputs } from './custom-inputs';
export { addCustomTexts, readCustomTexts } from './custom-texts';
export { PeopleWords } from './people-words';
export { PersonPicker } from './person-picker';
