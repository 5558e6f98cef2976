import { isDeepStrictEqual } from 'node:util';
import { touchPolicy } from '@kettle/contract';
import { touchRuleOf } from '@kettle/core/touch';
import { jsonOf } from '../../platform/database/values';
import type { Reaction, Work } from '../../platform/work/work';
import { idOf } from '../../platform/ids';
import { idBytesOfKey, type Written } from '../../platform/work/written';
import { askForTouchFacts, readStandings } from '../../records/settings/index';
import type { Row } from '../../platform/database/schema.generated';

/**
 * Where the rules of touches or check-ins were written, by a change or by its undo, the facts of everybody they are about are counted again
 * in the background.
 */
export const recountAfterRules: Reaction = async (w, written) => {
  const concerned = new Set<string>([...withOtherInterval(written), ...(await withOtherRule(w, written))]);
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

/** Standings for which another rule of touches holds than before. */
async function withOtherRule(w: Work, written: Written): Promise<string[]> {
  const first = written
    .of('setting')
    .find(({ key }) => (JSON.parse(key) as { name: string }).name === 'touchPolicy');
  if (!first) return [];
  const [now] = await w.rows<Row<'setting', 'value'>>("SELECT value FROM setting WHERE name = 'touchPolicy'");
  const policyOf = (text: string | null | undefined) => (text ? touchPolicy.parse(jsonOf(text)) : undefined);
  const [before, after] = [policyOf(first.was?.value), policyOf(now?.value)];
  const standings = await readStandings(w);
  return standings
    .filter((standing) => !isDeepStrictEqual(touchRuleOf(standing, before), touchRuleOf(standing, after)))
    .map(({ id }) => id);
}
