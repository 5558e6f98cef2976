import { changesAfter } from '@kettle/contract';
import type { Handler } from '../http/bind-routes';
import type { Services } from '../services';
import type { StampedNotice } from './feed';

const heartbeatMillis = 20_000;

/**
 * Server-sent events (WHATWG HTML, section 9.2). A browser that comes back tells the last id it heard and is told what it
 * missed; when that is too long ago it is told to read everything again.
 */
export function streamChanges({ feed }: Services): Handler<'changes'> {
  return async ({ query, request, response }) => {
    response.set({
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      'X-Accel-Buffering': 'no',
    });
    response.flushHeaders();
    response.write('retry: 2000\n\n');
    const send = ({ id, ...notice }: StampedNotice) =>
      response.write(`id: ${id}\nevent: change\ndata: ${JSON.stringify(notice)}\n\n`);
    const stop = feed.listen(send);
    const heartbeat = setInterval(() => response.write(': still here\n\n'), heartbeatMillis);
    request.on('close', () => {
      stop();
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
