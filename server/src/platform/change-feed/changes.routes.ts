import { changesAfter, everybodysTopics, type ChangeNotice, type OthersNotice } from '@kettle/contract';
import type { Request } from 'express';
import type { SignedIn } from '../../records/users/index';
import type { Handler } from '../http/bind-routes';
import type { Services } from '../services';
import type { StampedNotice } from './feed';
import { Others } from './others';

const heartbeatMillis = 20_000;

/**
 * Server-sent events (WHATWG HTML, section 9.2). What concerns somebody is told at once; what changed of others' is told together every few
 * seconds, so that what a page reads again does not grow with how many work beside it. A browser that comes back tells the last id it heard
 * and is told what it missed; when that is too long ago it is told to read everything again. It ends soon after its session.
 */
export function streamChanges(
  { feed }: Services,
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
    const write = (id: string, event: string, data: ChangeNotice | OthersNotice) =>
      response.write(`id: ${id}\nevent: ${event}\ndata: ${JSON.stringify(data)}\n\n`);
    const others = new Others(feed.togetherMillis, (id, notice) => write(id, 'others', notice));
    const send = (notice: StampedNotice) => {
      const { id, topic, ids, owners, byUserId } = notice;
      const isMine = byUserId === who.id || owners.includes(who.id);
      if (isMine || (owners.length === 0 && everybodysTopics.includes(topic)))
        write(id, 'change', { topic, ids });
      else if (mayHear(who.reach.reads, [...owners, byUserId])) others.add(notice);
    };
    const readAgain = () => response.write('event: resync\ndata: {}\n\n');
    const stop = feed.listen(send, readAgain);
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
      others.stop();
      clearInterval(heartbeat);
    });
    // A browser that comes back by itself names what it heard last; a new page, what was newest when it began.
    const heard = changesAfter.shape.after.safeParse(request.get('last-event-id')).data;
    const last = heard ?? query.after;
    if (last !== undefined) {
      const missed = await feed.since(last, heard === undefined ? query.knownAt : undefined);
      if (missed === null) readAgain();
      else missed.forEach(send);
    }
    return 'answered';
  };
}

/** Whether somebody is told of others' changes: of what they may read, and of what belongs to nobody. */
function mayHear(reads: 'everybody' | ReadonlySet<string>, people: readonly (string | null)[]): boolean {
  const known = people.filter((id) => id !== null);
  return reads === 'everybody' || known.length === 0 || known.some((id) => reads.has(id));
}
