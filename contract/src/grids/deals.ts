import { dealPlain } from '../base/catalogues';
import { gridOf, inGrid } from '../base/grid-fields';
import type { DealGridRow } from '../deals';

/** Built-in fields of the list of deals, in the order a new view shows them. */
export const dealGridFields = gridOf<DealGridRow>()({
  name: {
    name: $localize`name`,
    type: 'text',
    cell: 'name',
    canSort: true,
    width: 240,
    of: (row) => row.name,
  },
  'next-step': {
    name: $localize`next step`,
    type: 'date',
    canSort: true,
    width: 110,
    of: (row) => row.tether.nextStepOn,
  },
  close: {
    name: $localize`expected close`,
    type: 'date',
    cell: 'expectedCloseOn',
    canSort: true,
    width: 120,
    of: (row) => row.expectedCloseOn,
  },
  value: {
    name: $localize`value`,
    type: 'money',
    cell: 'amountMinor',
    canSort: true,
    isSummed: true,
    width: 100,
    of: (row) => row.amountMinor,
    currencyOf: (row) => row.currency,
  },
  weighted: {
    name: $localize`weighted value`,
    type: 'money',
    canSort: true,
    isSummed: true,
    width: 120,
    of: (row) => row.weightedMinor,
  },
  chance: {
    name: $localize`chance of winning`,
    type: 'percent',
    canSort: true,
    width: 100,
    of: (row) => row.winProbability,
  },
  stage: {
    name: $localize`stage`,
    type: 'stage',
    canSort: true,
    canGroup: true,
    width: 170,
    of: (row) => row.stageId,
  },
  pipeline: { name: $localize`pipeline`, type: 'pipeline', canGroup: true, of: (row) => row.pipelineId },
  owner: {
    name: $localize`owner`,
    type: 'user',
    cell: 'ownerId',
    canSort: true,
    canGroup: true,
    width: 120,
    of: (row) => row.ownerName,
  },
  company: {
    name: $localize`company`,
    type: 'text',
    canSort: true,
    canGroup: true,
    width: 170,
    of: (row) => row.companyName,
  },
  contact: { name: $localize`person`, type: 'text', canSort: true, of: (row) => row.contactName },
  ...inGrid<typeof dealPlain.fields, DealGridRow>(dealPlain, { withCells: true }),
  'last-touch': {
    name: $localize`last touch`,
    type: 'instant',
    canSort: true,
    of: (row) => row.tether.lastTouchAt,
  },
  'stage-since': {
    name: $localize`in its stage since`,
    type: 'instant',
    canSort: true,
    of: (row) => row.stageSince,
  },
  competitor: { name: $localize`competitor`, type: 'competitor', of: (row) => row.competitors },
  created: { name: $localize`added`, type: 'instant', canSort: true, of: (row) => row.createdAt },
  closed: { name: $localize`closed`, type: 'date', canSort: true, of: (row) => row.closedOn },
  reason: {
    name: $localize`reason`,
    type: 'text',
    canSort: true,
    canGroup: true,
    of: (row) => row.closeReason,
  },
});

export type DealGridFieldKey = keyof typeof dealGridFields;
