import type { AskedWording, Wording, WordingId } from '@kettle/contract';
import type { Call } from '../../platform/http/bind-routes';
import { askedWording } from '@kettle/contract';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import { assertMayRelease } from '../../records/wordings/index';
import { carryOut } from './carry-out';
import { placeOf } from './draft-wording';
import { readWording } from './wording-rows';

/**
 * Does what was asked for, now, over what others changed since.
 * @throws Problem `needs-release`; `stale` when it was decided meanwhile, or with each field that others changed since it was asked for
 */
export async function releaseWording(
  w: PersonWork,
  id: WordingId,
  { version, resolved }: Call<'releaseWording'>['body'],
): Promise<void> {
  const wording = await toDecide(w, id, version);
  const asked = askedOf(wording);
  // What its author settled holds, unless whoever releases it settles anew.
  const again = resolved && 'version' in asked.body ? { ...asked, body: { ...asked.body, resolved } } : asked;
  await carryOut(w, again as AskedWording, id);
  w.say($localize`Change of “${wording.name}:name:” by ${wording.authorName}:authorName: released`);
  await tell(w, wording, 'released');
}

/** @throws Problem `needs-release`, `stale` */
export async function declineWording(
  w: PersonWork,
  id: WordingId,
  { version, said }: Call<'declineWording'>['body'],
): Promise<void> {
  const wording = await toDecide(w, id, version);
  await w.change(
    `UPDATE wording SET state = 'declined', said = :said, decided_by = :who, decided_at = :now, version = version + 1 WHERE id = :id`,
    { id: bytesOf(id), said, who: bytesOf(w.who.id), now: sqlInstant(w.now) },
  );
  w.say($localize`Change of “${wording.name}:name:” by ${wording.authorName}:authorName: declined`);
  await tell(w, wording, $localize`declined: ${said}:said:`);
}

/** Its author takes it back. @throws Problem `not-yours`, `stale` */
export async function withdrawWording(
  w: PersonWork,
  id: WordingId,
  { version }: Call<'withdrawWording'>['body'],
): Promise<void> {
  const wording = await readWaiting(w, id, version);
  if (wording.authorId !== w.who.id) throw new Problem('not-yours', { owner: wording.authorName });
  await w.change('DELETE FROM wording WHERE id = :id', { id: bytesOf(id) });
  w.say($localize`Change of “${wording.name}:name:” withdrawn`);
}

async function toDecide(w: PersonWork, id: WordingId, version: number): Promise<Wording> {
  await assertMayRelease(w.services, w.who);
  return readWaiting(w, id, version);
}

async function readWaiting(w: PersonWork, id: WordingId, version: number): Promise<Wording> {
  const wording = await readWording(w, id, 'FOR UPDATE');
  if (wording.state !== 'waiting' || wording.version !== version)
    throw new Problem('stale', {}, { current: wording });
  return wording;
}

/** What was stored, parsed again: the fields of requests may have become more since. */
function askedOf({ act, templateId, snippetId, cadenceId, asked }: Wording): AskedWording {
  return askedWording.parse({ act, templateId, snippetId, cadenceId, body: asked });
}

async function tell(w: PersonWork, { authorId, name, act }: Wording, what: string): Promise<void> {
  if (authorId === w.who.id) return;
  await notify(
    w,
    'release',
    [authorId],
    $localize`${w.who.name}:name: ${what}:what:. Your change of “${name}:name2:”.`,
    placeOf(act),
  );
}
