import type { PersonName } from './person-names';

/** Words that begin a family name of several words. */
const particles = new Set(
  'de van von vom zu zum zur der den het la le di da do dos das del della dello degli ten ter af av al el bin ibn abu st'.split(
    ' ',
  ),
);
/** Where people carry a family name of each parent. */
const twoFamilyNames = new Set('ES MX AR CO CL PE VE EC GT CU BO DO HN PY SV NI CR PA UY'.split(' '));

/**
 * A name as it is written in one line, in its two fields: the last word is the family name, with what belongs to it before it ("de la
 * Cruz"), the last two where people carry two; before a comma stands the family name. One word alone is a given name. Common practice,
 * no source: how a name divides cannot be known, only proposed.
 * @param country ISO 3166 code of where they live; null when it is not known
 * @example splitName('Maud Ellery') is { givenName: 'Maud', familyName: 'Ellery' }
 * @example splitName('Ellery, Maud Ann') is { givenName: 'Maud Ann', familyName: 'Ellery' }
 */
export function splitName(full: string, country: string | null = null): PersonName {
  const [, family, given] = /^([^,]+),\s*(.+)$/.exec(full.trim()) ?? [];
  if (family !== undefined && given !== undefined)
    return { givenName: given.trim(), familyName: family.trim() };
  const words = full.split(/\s+/).filter(Boolean);
  if (words.length < 2) return { givenName: words[0] ?? '', familyName: '' };
  const particle = words.findIndex((word, at) => at > 0 && particles.has(word.toLowerCase()));
  const usual = country !== null && twoFamilyNames.has(country) && words.length > 2 ? 2 : 1;
  const at = particle > 0 && particle < words.length - 1 ? particle : words.length - usual;
  return { givenName: words.slice(0, at).join(' '), familyName: words.slice(at).join(' ') };
}
