import type { CustomField, CustomFieldType } from '@kettle/contract';
import { contactPlain, dealPlain, leadPlain } from '@kettle/contract/base/catalogues';
import { agreementSettings, type RuleSubject } from '@kettle/contract/rules/kinds';
import type { Option } from '../../kit/choice-field';

/** A field that a rule can set, with what it may be set to where that is one of a few. */
export interface Settable {
  readonly key: string;
  readonly name: string;
  readonly type: Exclude<CustomFieldType, 'person'>;
  readonly choices: readonly Option<string>[];
}

const catalogues = { contact: contactPlain, deal: dealPlain, lead: leadPlain } as const;

const among = (choices: readonly string[], names: Readonly<Record<string, string>> = {}): Option<string>[] =>
  choices.map((value) => ({ value, words: names[value] ?? value }));

/** The fields of a kind of record that a rule can set: those that ship, and those that an admin defined. */
export function settableOf(subject: RuleSubject, own: readonly CustomField[]): readonly Settable[] {
  if (subject === 'agreement')
    return Object.entries(agreementSettings).map(([key, name]) => ({
      ...{ key, name, choices: [] },
      type: key === 'renewsItself' ? ('yes-no' as const) : ('number' as const),
    }));
  const catalogue = catalogues[subject];
  const shipped = catalogue.keys.map((key): Settable => {
    const { name, type, choices = [], choiceNames } = catalogue.of(key as never);
    return { key, name, type: type === 'notes' ? 'text' : type, choices: among(choices, choiceNames) };
  });
  return [
    ...shipped,
    ...own.flatMap(({ id, name, type, choices }): Settable[] =>
      type === 'person' ? [] : [{ key: `custom:${id}`, name, type, choices: among(choices) }],
    ),
  ];
}
