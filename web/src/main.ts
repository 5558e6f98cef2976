import { openDoor } from './door';
import { beenHere } from './services/been-here';

/**
 * Whoever comes without being signed in gets the door alone, without the router and the pages behind it. Where nobody was signed in before, the
 * server says whether somebody is.
 */
async function open(): Promise<void> {
  const { pathname, search } = location;
  if (pathname !== '/sign-in' && (pathname === '/account' || beenHere.is() || (await isSignedIn())))
    return (await import('./app')).openApp();
  if (pathname !== '/sign-in')
    history.replaceState(null, '', `/sign-in?${new URLSearchParams({ to: pathname + search }).toString()}`);
  return openDoor();
}

async function isSignedIn(): Promise<boolean> {
  const { ok } = await fetch('/api/session').catch(() => ({ ok: false }));
  return ok;
}

void open();
