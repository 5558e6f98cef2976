import type { Queryable } from '../../platform/database/database';
import { enqueue } from '../../platform/jobs/job-table';

export const sendStepKind = 'send-step';

/** Asks for a step that goes by itself to be sent at its moment. */
export async function askToSendStep(tx: Queryable, taskId: string, at: string): Promise<void> {
  await enqueue(tx, {
    kind: sendStepKind,
    dedupeKey: `${sendStepKind}:${taskId}:${Date.parse(at)}`,
    payload: { taskId },
    dueAt: at,
  });
}
