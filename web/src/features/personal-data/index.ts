export { openPersonalData } from './open-personal-data';
export { PersonalDataPart } from './personal-data-part';
