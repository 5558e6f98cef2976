import type { Clock } from './clock';
import type { Queryable } from './database/database';

const mostMillis = 60_000;

/**
 * How far this machine's clock is ahead of the database's, in milliseconds. Several servers share one database, so its clock says what
 * is due; a server that writes times of its own must not be far from it.
 */
export async function clockDifference(db: Queryable, clock: Clock): Promise<number> {
  const machine = () => clock.millis() - clock.ahead();
  const asked = machine();
  const [row] = await db.rows<{ millis: string }>('SELECT ROUND(UNIX_TIMESTAMP(NOW(3)) * 1000) AS millis');
  const answered = machine();
  return (asked + answered) / 2 - Number(row?.millis);
}

/** @throws Error in one sentence when the clocks are more than a minute apart */
export async function checkClock(db: Queryable, clock: Clock): Promise<void> {
  const millis = await clockDifference(db, clock);
  if (Math.abs(millis) <= mostMillis) return;
  const seconds = Math.round(Math.abs(millis) / 1000);
  const how = millis > 0 ? 'ahead of' : 'behind';
  throw new Error(
    `This machine's clock is ${seconds} seconds ${how} the database's, and at most 60 are allowed. Set both by the same time server.`,
  );
}
