export { companiesFeature } from './feature';
export { readCompany, readPeopleOf } from './companies';
