import type { addOutsideCalendar } from '@kettle/contract';
import type * as z from 'zod';
import { OutsideFailure } from '../../platform/outside/fetch-outside';
import type { Services } from '../../platform/services';
import { Dav } from './dav';
import { assertRead } from './read-outside';
import { expandText } from './write-events';

/** Whether a calendar can be read, before it is kept. @throws OutsideFailure */
export async function tryAddress(
  services: Services,
  asked: z.output<typeof addOutsideCalendar>,
): Promise<void> {
  const { fetchOutside } = services.channels;
  if (asked.kind === 'both-ways') {
    const found = await new Dav(fetchOutside, asked).find(asked.address);
    if (!found.some(({ address }) => samePath(address, asked.address)))
      throw new OutsideFailure($localize`There are several calendars at this address: choose one of them.`);
    return;
  }
  const reply = await fetchOutside(asked.address, { headers: { accept: 'text/calendar, text/plain;q=0.5' } });
  assertRead(reply.status);
  const now = services.clock.now();
  await expandText(services, reply.text, { from: now, to: now, zone: 'UTC' });
}

const samePath = (one: string, other: string) => one.replace(/\/$/, '') === other.trim().replace(/\/$/, '');
