import type { Queryable } from '../../db/database';
import { Problem } from '../../http/problem';
import { bytesOf } from '../../ids';
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

export async function sayStageChange(tx: Queryable, from: string, to: string): Promise<string> {
  const stages = (await readPipelines(tx)).flatMap((pipeline) => pipeline.stages);
  const nameOf = (id: string) => stages.find((stage) => stage.id === id)?.name ?? '?';
  return `${nameOf(from)} → ${nameOf(to)}`;
}
