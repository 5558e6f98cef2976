import type { Deal } from '@kettle/contract';
import type { Queryable } from '../../db/database';
import { Problem } from '../../http/problem';
import { bytesOf } from '../../ids';
import { writeSystemEntry } from '../journal/write-entry';
import type { SignedIn } from '../session/session';
import { readPipelines } from './deal-rows';

/** @throws Problem `invalid-request` at `stageId` */
export async function assertStage(tx: Queryable, stageId: string): Promise<void> {
  const found = await tx.rows('SELECT 1 FROM stage WHERE id = :id', { id: bytesOf(stageId) });
  if (found.length === 0)
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path: 'stageId', message: 'is not a stage; choose one from the list' }] },
    );
}

/** A change of stage is in the journal of the deal and its people; another change is not. */
export async function noteStageChange(
  tx: Queryable,
  who: SignedIn,
  { id: dealId, stageId: from, contactId, companyId }: Deal,
  to: string,
  now: string,
): Promise<void> {
  if (from === to) return;
  const stages = (await readPipelines(tx)).flatMap((pipeline) => pipeline.stages);
  const nameOf = (id: string) => stages.find((stage) => stage.id === id)?.name ?? '?';
  const body = `${nameOf(from)} → ${nameOf(to)}`;
  await writeSystemEntry(tx, { body, dealId, contactId, companyId, userId: who.id, now });
}
