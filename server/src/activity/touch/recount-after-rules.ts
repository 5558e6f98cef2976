import { isDeepStrictEqual } from 'node:util';
import { touchPolicy } from '@kettle/contract';
import { touchRuleOf } from '@kettle/core/touch';
import { jsonOf } from '../../platform/database/values';
import type { Reaction, Work } from '../../platform/work/work';
import { idOf } from '../../platform/ids';
import { idBytesOfKey, type Written } from '../../platform/work/written';
import { askForTouchFacts, readStandings, settingOf } from '../../records/settings/index';
import type { Row } from '../../platform/database/schema.generated';

/**
 * Where the rules of touches or check-ins were written, by a change or by its undo, the facts of everybody they are about are counted again
 * in the background.
 */
export const recountAfterRules: Reaction = async (w, written) => {
  const concerned = new Set<string>([
    ...withOtherInterval(written),
    ...(await withOtherRule(w, written)),
    ...(await withOtherDaysOff(w, written)),
  ]);
  if (concerned.size > 0) await askForTouchFacts(w, [...concerned]);
};

/** Standings whose interval or group was changed. */
function withOtherInterval(written: Written): string[] {
  return written
    .of('standing')
    .filter(
      ({ op, became }) =>
        op === 'update' && became && ('check_in_days' in became || 'standing_group' in became),
    )
    .map(({ key }) => idOf(idBytesOfKey(key)));
}

/** All standings, where other days are off in the countries that people are in: a check-in falls on a working day. */
async function withOtherDaysOff(w: Work, written: Written): Promise<string[]> {
  const first = settingIn(written, 'organisation');
  if (!first) return [];
  const daysOff = (text: string | null | undefined) => {
    const { regions, halfDaysOff } = settingOf('organisation', text ?? undefined);
    return { regions, halfDaysOff };
  };
  const now = await readSettingText(w, 'organisation');
  return isDeepStrictEqual(daysOff(first.was?.value), daysOff(now))
    ? []
    : (await readStandings(w)).map(({ id }) => id);
}

const settingIn = (written: Written, asked: string) =>
  written.of('setting').find(({ key }) => (JSON.parse(key) as { name: string }).name === asked);

async function readSettingText(w: Work, name: string): Promise<string | undefined> {
  const [now] = await w.rows<Row<'setting', 'value'>>('SELECT value FROM setting WHERE name = :name', {
    name,
  });
  return now?.value;
}

/** Standings for which another rule of touches holds than before. */
async function withOtherRule(w: Work, written: Written): Promise<string[]> {
  const first = settingIn(written, 'touchPolicy');
  if (!first) return [];
  const now = await readSettingText(w, 'touchPolicy');
  const policyOf = (text: string | null | undefined) => (text ? touchPolicy.parse(jsonOf(text)) : undefined);
  const [before, after] = [policyOf(first.was?.value), policyOf(now)];
  const standings = await readStandings(w);
  return standings
    .filter((standing) => !isDeepStrictEqual(touchRuleOf(standing, before), touchRuleOf(standing, after)))
    .map(({ id }) => id);
}
