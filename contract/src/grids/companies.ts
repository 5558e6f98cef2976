import { countedFields } from '../base/counted';
import { gridOf } from '../base/grid-fields';
import type { CompanyRow } from '../companies';

/** Built-in fields of the list of companies, in the order a new view shows them. */
export const companyGridFields = gridOf<CompanyRow>()({
  name: {
    name: $localize`name`,
    type: 'text',
    cell: 'name',
    canSort: true,
    width: 240,
    of: (row) => row.name,
  },
  trade: {
    name: $localize`trade`,
    type: 'text',
    cell: 'trade',
    canSort: true,
    canGroup: true,
    of: (row) => row.trade,
  },
  city: { name: $localize`town`, type: 'text', canSort: true, canGroup: true, of: (row) => row.city },
  country: {
    name: $localize`country`,
    type: 'text',
    canSort: true,
    canGroup: true,
    width: 76,
    of: (row) => row.country,
  },
  owner: { name: $localize`owner`, type: 'user', canSort: true, canGroup: true, of: (row) => row.ownerName },
  people: { name: $localize`people`, type: 'number', canSort: true, width: 80, of: (row) => row.people },
  'open-deals': {
    name: $localize`open deals`,
    type: 'number',
    canSort: true,
    width: 96,
    of: (row) => row.openDeals || null,
  },
  'open-value': {
    name: $localize`open value`,
    type: 'money',
    canSort: true,
    isSummed: true,
    width: 110,
    of: (row) => row.openValueMinor || null,
  },
  'last-touch': { name: $localize`last touch`, type: 'instant', canSort: true, of: (row) => row.lastTouchAt },
  website: {
    name: $localize`website`,
    type: 'link',
    cell: 'website',
    canSort: true,
    of: (row) => row.website,
  },
  ...countedFields<'company', CompanyRow>('company'),
});

export type CompanyGridFieldKey = keyof typeof companyGridFields;
