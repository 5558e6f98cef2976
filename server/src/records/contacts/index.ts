export { contactsFeature } from './feature';
export { addContact, cellOf, giveTo, sayCell, standingFor, writeCell } from './change-contact';
export { archivedSql, contactSql, matchAll, searchWords } from './contact-filter';
export { readContact, readContactRows, tetherOf, type TetherColumns } from './contact-rows';
export { deriveSearchText } from './derive-search';
export { keepPoint } from './keep-point';
export { readContactIds } from './list-contacts';
export { contactIdOf } from './merged-ids';
export { moveStanding } from './move-standing';
export {
  findOrMakeCompanies,
  findOrMakeCompany,
  insertContact,
  insertContacts,
  placeKey,
  type CompanyDraft,
  type NewContact,
} from './write-contact';
