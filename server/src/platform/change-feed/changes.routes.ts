import { changesAfter } from '@kettle/contract';
import type { Request } from 'express';
import type { SignedIn } from '../../records/users/index';
import type { Queryable } from '../database/database';
import type { Handler } from '../http/bind-routes';
import { bytesOf } from '../ids';
import type { Services } from '../services';
import type { StampedNotice } from './feed';

const heartbeatMillis = 20_000;

/**
 * Server-sent events (WHATWG HTML, section 9.2). A browser that comes back tells the last id it heard and is told what it
 * missed; when that is too long ago it is told to read everything again. It ends soon after its session.
 */
export function streamChanges(
  { feed, database }: Services,
  signedIn: (request: Request) => Promise<SignedIn | null>,
  everyMillis = heartbeatMillis,
): Handler<'changes'> {
  return async ({ query, request, response, who }) => {
    response.set({
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      'X-Accel-Buffering': 'no',
    });
    response.flushHeaders();
    response.write('retry: 2000\n\n');
    const tell = (id: string, notice: object) => {
      response.write(`id: ${id}\nevent: change\ndata: ${JSON.stringify(notice)}\n\n`);
    };
    const send = ({ id, owners, ...notice }: StampedNotice) => {
      if (concerns(who.reach.reads, [...owners, notice.byUserId], who.id)) return tell(id, notice);
      // A deal is told to its team as well, who may be nobody's of those.
      if (notice.topic === 'deal')
        void isInTeam(database, notice.recordId, who.id).then(
          (isIn) => isIn && tell(id, notice),
          () => undefined,
        );
    };
    const stop = feed.listen(send);
    const heartbeat = setInterval(() => void beat(), everyMillis);
    const beat = async () => {
      // A session that was ended hears nothing more; one that cannot be asked about just now stays.
      const still = await signedIn(request).catch(() => who);
      if (still === null) response.end();
      else response.write(': still here\n\n');
    };
    const forget = feed.onClose(() => response.end());
    request.on('close', () => {
      stop();
      forget();
      clearInterval(heartbeat);
    });
    // A browser that comes back by itself names what it heard last; a new page, what was newest when it began.
    const last = changesAfter.shape.after.safeParse(request.get('last-event-id') ?? query.after).data;
    if (last !== undefined) {
      const missed = await feed.since(last);
      if (missed === null) response.write('event: resync\ndata: {}\n\n');
      else missed.forEach(send);
    }
    return 'answered';
  };
}

/** Whether somebody is told of a change: of what they may read, and of what belongs to nobody. */
function concerns(
  reads: 'everybody' | ReadonlySet<string>,
  people: readonly (string | null)[],
  me: string,
): boolean {
  const known = people.filter((id) => id !== null);
  return reads === 'everybody' || known.length === 0 || known.some((id) => id === me || reads.has(id));
}

async function isInTeam(db: Queryable, dealId: string, userId: string): Promise<boolean> {
  const rows = await db.rows('SELECT 1 FROM deal_colleague WHERE deal_id = :deal AND user_id = :user', {
    deal: bytesOf(dealId),
    user: bytesOf(userId),
  });
  return rows.length > 0;
}
