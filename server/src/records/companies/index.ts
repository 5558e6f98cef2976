export { companiesFeature } from './feature';
export { readCompany, readPeopleOf } from './companies';
export { companiesOfDomain } from './of-domain';
