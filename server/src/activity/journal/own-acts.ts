import { channels } from '@kettle/contract';
import { channelsThat } from '@kettle/contract/base/channels';

/**
 * What people did themselves, of `journal_entry e`: not what goes out by itself, nor what was written to them. The same count in “What I did”,
 * the ranking and the reports.
 */
export const ownActs = {
  join: 'LEFT JOIN task t ON t.id = e.task_id',
  where: `e.kind IN (:channels) AND e.removed_at IS NULL AND NOT (e.direction = 'in' AND e.kind IN (:written))
            AND NOT COALESCE(t.is_automatic, 0)`,
} as const;

export const ownActsParameters = { channels, written: channelsThat(({ isWritten }) => isWritten === true) };
