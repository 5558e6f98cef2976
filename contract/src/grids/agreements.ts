import type { AgreementRow } from '../agreements';
import { gridOf } from '../base/grid-fields';

/** Fields of the list of agreements, in the order a new view shows them. */
export const agreementGridFields = gridOf<AgreementRow>()({
  name: {
    name: $localize`agreement`,
    type: 'text',
    cell: 'name',
    canSort: true,
    width: 220,
    of: (row) => row.name,
  },
  company: {
    name: $localize`company`,
    type: 'text',
    canSort: true,
    canGroup: true,
    width: 170,
    of: (row) => row.companyName,
  },
  person: { name: $localize`person`, type: 'text', canSort: true, of: (row) => row.contactName },
  notice: {
    name: $localize`last day for notice`,
    type: 'date',
    canSort: true,
    width: 150,
    of: (row) => row.noticeDeadlineOn,
  },
  lead: { name: $localize`talk from`, type: 'date', canSort: true, width: 110, of: (row) => row.leadOn },
  ends: { name: $localize`ends`, type: 'date', canSort: true, width: 110, of: (row) => row.endsOn },
  starts: {
    name: $localize`starts`,
    type: 'date',
    cell: 'startsOn',
    canSort: true,
    width: 110,
    of: (row) => row.startsOn,
  },
  term: {
    name: $localize`months`,
    type: 'number',
    cell: 'termMonths',
    canSort: true,
    width: 80,
    of: (row) => row.termMonths,
  },
  value: {
    name: $localize`value of the term`,
    type: 'money',
    cell: 'valueMinor',
    canSort: true,
    isSummed: true,
    of: (row) => row.valueMinor,
    currencyOf: (row) => row.currency,
  },
  renews: {
    name: $localize`renews itself`,
    type: 'yes-no',
    cell: 'renewsItself',
    canSort: true,
    canGroup: true,
    width: 110,
    of: (row) => row.renewsItself,
  },
  owner: { name: $localize`owner`, type: 'user', canSort: true, canGroup: true, of: (row) => row.ownerName },
});

export type AgreementGridFieldKey = keyof typeof agreementGridFields;
