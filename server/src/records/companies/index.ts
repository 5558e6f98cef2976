export { companiesFeature } from './feature';
export { changeCompany } from './change-company';
export { readCompany, readPeopleOf } from './companies';
export { companiesOfDomain } from './of-domain';
