import { gridOf } from '../base/grid-fields';
import type { LeadRow } from '../leads';
import { leadStatusLabel } from '../leads/status-label';

/** Fields of the list of leads, in the order a new view shows them. */
export const leadGridFields = gridOf<LeadRow>()({
  name: { name: $localize`person`, type: 'text', canSort: true, width: 200, of: (row) => row.contactName },
  company: {
    name: $localize`company`,
    type: 'text',
    canSort: true,
    canGroup: true,
    of: (row) => row.companyName,
  },
  subject: {
    name: $localize`what they want`,
    type: 'text',
    cell: 'subject',
    canSort: true,
    width: 230,
    of: (row) => row.subject,
  },
  source: {
    name: $localize`source`,
    type: 'text',
    cell: 'source',
    canSort: true,
    canGroup: true,
    of: (row) => row.source,
  },
  campaign: {
    name: $localize`campaign`,
    type: 'text',
    cell: 'campaign',
    canSort: true,
    canGroup: true,
    of: (row) => row.campaign,
  },
  warmth: {
    name: $localize`warmth`,
    type: 'choice',
    choices: ['hot', 'warm', 'cool'],
    cell: 'warmth',
    canSort: true,
    canGroup: true,
    width: 80,
    of: (row) => row.warmth,
  },
  status: {
    name: $localize`status`,
    type: 'choice',
    choices: Object.keys(leadStatusLabel),
    choiceNames: leadStatusLabel,
    canSort: true,
    canGroup: true,
    of: (row) => row.status,
  },
  tags: { name: $localize`tags`, type: 'tags', cell: 'tags', width: 140, of: (row) => row.tags },
  'last-touch': {
    name: $localize`last touch`,
    type: 'instant',
    canSort: true,
    of: (row) => row.tether.lastTouchAt,
  },
  'next-step': {
    name: $localize`next step`,
    type: 'date',
    canSort: true,
    width: 120,
    of: (row) => row.tether.nextStepOn,
  },
  'follow-up': {
    name: $localize`follow-up`,
    type: 'date',
    cell: 'followUpOn',
    canSort: true,
    width: 110,
    of: (row) => row.followUpOn,
  },
  owner: {
    name: $localize`owner`,
    type: 'user',
    cell: 'ownerId',
    canSort: true,
    canGroup: true,
    width: 120,
    of: (row) => row.ownerName,
  },
  email: { name: $localize`e-mail`, type: 'text', canSort: true, width: 200, of: (row) => row.email },
  phone: { name: $localize`phone`, type: 'text', canSort: true, of: (row) => row.phone },
  created: { name: $localize`added`, type: 'instant', canSort: true, of: (row) => row.createdAt },
});

export type LeadGridFieldKey = keyof typeof leadGridFields;
