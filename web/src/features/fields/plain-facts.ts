import {
  sayPlain,
  type Catalogue,
  type PlainFields,
  type ValuesOf,
} from '@kettle/contract/base/plain-fields';
import { sayDay } from '@kettle/core/time';

/** The filled fields of a catalogue as a dossier shows them, `without` those that it shows elsewhere. */
export function plainFacts<Fields extends PlainFields>(
  catalogue: Catalogue<Fields>,
  record: ValuesOf<Fields>,
  { today, without = [] }: { readonly today: string; readonly without?: readonly (keyof Fields)[] },
): { name: string; words: string }[] {
  return catalogue.keys
    .filter((key) => !without.includes(key))
    .map((key) => {
      const field = catalogue.of(key);
      const value = record[key] as string | null;
      return {
        name: field.name,
        words: field.type === 'date' && value !== null ? sayDay(value, today) : sayPlain(field, value),
      };
    })
    .filter(({ words }) => words !== '');
}
