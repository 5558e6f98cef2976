import type { ChangeTopic, EventKind } from '@kettle/contract';
import { ownersOf, subjectsOf, type NewEvent } from './platform/work/events';
import { idOfHex, type WrittenRow } from './platform/work/written';

/**
 * What a written row says happened, in the words that notifications, rules and reports go by. It follows from the row alone, so that no use
 * case, job or bulk change can forget to say it; what no row says is published by hand.
 * @example a deal whose stage_id went from A to B is { kind: 'deal-moved', topic: 'deal', data: { from: A, to: B, subjects: [...] } }
 */
export function whatHappened(row: WrittenRow): readonly NewEvent[] {
  const hex = row.refs.id;
  if (!hex) return [];
  return (said[row.table]?.(row) ?? []).map(({ kind, topic, data = {} }) => ({
    kind,
    topic,
    recordId: idOfHex(hex),
    owners: ownersOf([row]),
    data: { ...data, subjects: subjectsOf([row]) },
  }));
}

interface Saying {
  readonly kind: EventKind;
  readonly topic: ChangeTopic;
  readonly data?: Readonly<Record<string, unknown>>;
}

/** From and to of a column, if the row's change is about it. */
function changeOf({ op, was, became }: WrittenRow, column: string) {
  if (op !== 'update' || !was || !became || !(column in became)) return null;
  return { from: was[column] ?? null, to: became[column] ?? null };
}

/** The same of a column of ids. */
function changedId(row: WrittenRow, column: string) {
  const change = changeOf(row, column);
  const id = (hex: string | null) => (hex === null ? null : idOfHex<string>(hex));
  return change && { from: id(change.from), to: id(change.to) };
}

const ownerOf = (topic: ChangeTopic) => (row: WrittenRow) => {
  const data = changedId(row, 'owner_id');
  return data === null ? [] : [{ kind: 'owner-changed', topic, data } as const];
};

const said: Readonly<Record<string, (row: WrittenRow) => readonly Saying[]>> = {
  contact: (row) => {
    const standing = changedId(row, 'standing_id');
    return [
      ...ownerOf('contact')(row),
      ...(standing ? [{ kind: 'standing-changed', topic: 'contact', data: standing } as const] : []),
    ];
  },
  company: ownerOf('company'),
  deal: (row) => {
    const stage = changedId(row, 'stage_id');
    const status = changeOf(row, 'status');
    return [
      ...ownerOf('deal')(row),
      // One that is opened again in another stage did not move.
      ...(stage && !status ? [{ kind: 'deal-moved', topic: 'deal', data: stage } as const] : []),
      ...(status
        ? [
            {
              kind: status.to === 'open' ? 'deal-reopened' : 'deal-closed',
              topic: 'deal',
              data: status,
            } as const,
          ]
        : []),
    ];
  },
  task: (row) => {
    const state = changeOf(row, 'state');
    if (state?.to === 'done') return [{ kind: 'task-finished', topic: 'task' }];
    return state?.to === 'dropped' ? [{ kind: 'task-dropped', topic: 'task' }] : ownerOf('task')(row);
  },
  journal_entry: ({ op, refs }) =>
    op === 'insert' && refs.kind !== 'system' && refs.kind !== 'note'
      ? [{ kind: 'touch-logged', topic: 'journal', data: { channel: refs.kind } }]
      : [],
  sales_lead: (row) => {
    if (row.op === 'insert') return [{ kind: 'lead-added', topic: 'lead' }];
    const status = changeOf(row, 'hand_status');
    return [
      ...ownerOf('lead')(row),
      ...(status ? [{ kind: 'lead-status-said', topic: 'lead', data: status } as const] : []),
    ];
  },
  mail: ({ op, refs }) =>
    op === 'insert' && refs.direction === 'in' ? [{ kind: 'mail-arrived', topic: 'mail' }] : [],
  agreement: ({ op }) => (op === 'insert' ? [{ kind: 'agreement-made', topic: 'agreement' }] : []),
  run: (row) => {
    const status = changeOf(row, 'status');
    return status?.to === 'finished' || status?.to === 'stopped'
      ? [{ kind: 'cadence-ended', topic: 'run', data: status }]
      : [];
  },
};
