import type { Queryable } from '../database/database';

/** What only one may do at a time; each has a row of `turn` as soon as it was done. */
export type Turn = 'accounts' | 'defaults' | 'lead-owner' | 'pipelines' | 'standings';

/**
 * Waits until nobody else does this, and keeps others out until the transaction ends: for a rule about several rows ("one admin stays"),
 * which a lock on each of them does not hold between the nodes of a cluster. There the second fails when it commits, and does it all again.
 */
export async function takeTurn(tx: Queryable, name: Turn): Promise<void> {
  await tx.change(
    'INSERT INTO turn (name, taken) VALUES (:name, 1) ON DUPLICATE KEY UPDATE taken = taken + 1',
    { name },
  );
}
