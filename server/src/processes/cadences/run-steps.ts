import { variantOf, type RunEffect, type RunEvent } from '@kettle/core/cadences';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import type { Work } from '../../platform/work/work';
import type { StoredRun } from './run-rows';

type Planned = Extract<RunEffect, { kind: 'create-task' | 'send' }>;

/** Notes that a run came to a step, and which of its templates it will get. */
export async function noteReached(
  w: Work,
  { id, definition }: Pick<StoredRun, 'id' | 'definition'>,
  { step, channel }: Planned,
): Promise<void> {
  const templateIds = definition.steps[step]?.templateIds ?? [];
  await w.change(
    `INSERT IGNORE INTO run_step (run_id, step, channel, template_id, reached_at)
     VALUES (:run, :step, :channel, :template, :now)`,
    {
      run: bytesOf(id),
      step,
      channel,
      template: bytesOf(variantOf(templateIds, id, step)),
      now: sqlInstant(w.now),
    },
  );
}

/** Notes what an event says of the steps: one was done, or the latest that was done has been answered. */
export async function noteEvent(tx: Queryable, runId: string, event: RunEvent): Promise<void> {
  const run = bytesOf(runId);
  const at = sqlInstant(event.at);
  if (event.kind === 'sent' || event.kind === 'step-done')
    await tx.change(
      'UPDATE run_step SET acted_at = COALESCE(acted_at, :at) WHERE run_id = :run AND step = :step',
      { run, at, step: event.step },
    );
  const isAnswer =
    event.kind === 'replied' || (event.kind === 'step-done' && event.counts === 'conversation');
  if (isAnswer)
    await tx.change(
      `UPDATE run_step SET answered_at = COALESCE(answered_at, :at)
        WHERE run_id = :run AND acted_at IS NOT NULL ORDER BY acted_at DESC, step DESC LIMIT 1`,
      { run, at },
    );
}
