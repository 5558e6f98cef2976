import { contactId } from '../base/ids';
import { byId, nothing, type RouteSpec } from '../base/route';
import {
  changeRetentionSettings,
  dataPlaces,
  erasedPerson,
  erasePerson,
  exportPersonalData,
  personalData,
  retentionSettings,
} from './schemas';

const params = byId.extend({ id: contactId });

export const personalDataRoutes = {
  personalData: {
    access: 'admin',
    summary: 'What is held of a person, and what erasing them leaves',
    params,
    reply: personalData,
  },
  exportPersonalData: {
    access: 'admin',
    perHour: 60,
    summary: 'Everything that is held of a person, as JSON or to read',
    params,
    query: exportPersonalData,
    reply: nothing,
  },
  erasePerson: {
    access: 'admin',
    perHour: 60,
    summary: 'Erase what is held of a person, for good',
    params,
    body: erasePerson,
    reply: erasedPerson,
  },
  dataPlaces: { access: 'admin', summary: 'Where personal data lies, and how long', reply: dataPlaces },
  retentionSettings: {
    access: 'admin',
    summary: 'How long what is no longer needed is kept',
    reply: retentionSettings,
  },
  changeRetentionSettings: {
    access: 'admin',
    summary: 'Change how long what is no longer needed is kept',
    body: changeRetentionSettings,
    reply: retentionSettings,
  },
} as const satisfies Record<string, RouteSpec>;
