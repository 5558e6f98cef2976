import type { ImportField } from './imports';
import type { Channel } from './words';

/** Names for people to read, free of schemas so that the browser carries them cheaply. */
export const channelLabel: Record<Channel, string> = {
  call: 'Call',
  email: 'E-mail',
  text: 'Text',
  meeting: 'Meeting',
  visit: 'Visit',
  other: 'Other',
};

export const importFieldLabel: Record<ImportField, string> = {
  ignore: 'leave out',
  givenName: 'given name',
  familyName: 'family name',
  fullName: 'full name',
  jobTitle: 'job title',
  company: 'company',
  email: 'e-mail',
  phone: 'phone',
  country: 'country',
  city: 'town',
  street: 'street',
  postcode: 'postcode',
  website: 'website',
  standing: 'standing',
  source: 'source',
  note: 'note',
};
