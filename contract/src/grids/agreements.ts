import type { AgreementRow } from '../agreements';
import { gridOf } from '../base/grid-fields';

/** Fields of the list of agreements, in the order a new view shows them. */
export const agreementGridFields = gridOf<AgreementRow>()({
  name: { name: 'agreement', type: 'text', cell: 'name', canSort: true, width: 220, of: (row) => row.name },
  company: {
    name: 'company',
    type: 'text',
    canSort: true,
    canGroup: true,
    width: 170,
    of: (row) => row.companyName,
  },
  person: { name: 'person', type: 'text', canSort: true, of: (row) => row.contactName },
  notice: {
    name: 'last day for notice',
    type: 'date',
    canSort: true,
    width: 150,
    of: (row) => row.noticeDeadlineOn,
  },
  lead: { name: 'talk from', type: 'date', canSort: true, width: 110, of: (row) => row.leadOn },
  ends: { name: 'ends', type: 'date', canSort: true, width: 110, of: (row) => row.endsOn },
  starts: {
    name: 'starts',
    type: 'date',
    cell: 'startsOn',
    canSort: true,
    width: 110,
    of: (row) => row.startsOn,
  },
  term: {
    name: 'months',
    type: 'number',
    cell: 'termMonths',
    canSort: true,
    width: 80,
    of: (row) => row.termMonths,
  },
  value: {
    name: 'value of the term',
    type: 'money',
    cell: 'valueMinor',
    canSort: true,
    isSummed: true,
    of: (row) => row.valueMinor,
    currencyOf: (row) => row.currency,
  },
  renews: {
    name: 'renews itself',
    type: 'yes-no',
    cell: 'renewsItself',
    canSort: true,
    canGroup: true,
    width: 110,
    of: (row) => row.renewsItself,
  },
  owner: { name: 'owner', type: 'user', canSort: true, canGroup: true, of: (row) => row.ownerName },
});

export type AgreementGridFieldKey = keyof typeof agreementGridFields;
