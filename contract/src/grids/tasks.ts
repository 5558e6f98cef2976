import { gridOf } from '../base/grid-fields';
import { ofChannels } from '../base/channels';
import type { Task } from '../tasks';

const channelLabel = ofChannels(({ label }) => label);

/** Fields of the list of tasks, in the order a new view shows them. */
export const taskGridFields = gridOf<Task>()({
  due: {
    name: $localize`when`,
    type: 'date',
    cell: 'dueOn',
    canSort: true,
    width: 120,
    of: (row) => row.dueOn,
  },
  purpose: {
    name: $localize`purpose`,
    type: 'text',
    cell: 'purpose',
    canSort: true,
    width: 230,
    of: (row) => row.purpose,
  },
  person: {
    name: $localize`person`,
    type: 'text',
    canSort: true,
    canGroup: true,
    width: 190,
    of: (row) => row.contactName,
  },
  company: {
    name: $localize`company`,
    type: 'text',
    canSort: true,
    canGroup: true,
    of: (row) => row.companyName,
  },
  deal: {
    name: $localize`deal`,
    type: 'text',
    canSort: true,
    canGroup: true,
    width: 160,
    of: (row) => row.dealName,
  },
  channel: {
    name: $localize`channel`,
    type: 'choice',
    choices: Object.keys(channelLabel),
    choiceNames: channelLabel,
    cell: 'channel',
    canSort: true,
    canGroup: true,
    width: 90,
    of: (row) => row.channel,
  },
  minutes: {
    name: $localize`minutes`,
    type: 'number',
    cell: 'minutes',
    canSort: true,
    isSummed: true,
    width: 80,
    of: (row) => row.minutes,
  },
  owner: {
    name: $localize`assigned to`,
    type: 'user',
    cell: 'ownerId',
    canSort: true,
    canGroup: true,
    width: 130,
    of: (row) => row.ownerName,
  },
  state: {
    name: $localize`state`,
    type: 'choice',
    choices: ['open', 'done', 'dropped'],
    canSort: true,
    canGroup: true,
    width: 90,
    of: (row) => row.state,
  },
  moved: {
    name: $localize`times moved`,
    type: 'number',
    canSort: true,
    width: 90,
    of: (row) => row.timesMoved,
  },
  finished: { name: $localize`finished`, type: 'instant', canSort: true, of: (row) => row.finishedAt },
});

export type TaskGridFieldKey = keyof typeof taskGridFields;
