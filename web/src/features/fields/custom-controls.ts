import { computed, effect, inject } from '@angular/core';
import { writeNumber } from '@kettle/core/locale';
import { writeMoney } from '@kettle/core/money';
import { type FormControl, FormRecord } from '@angular/forms';
import type { CustomField, CustomSubject, CustomValue } from '@kettle/contract';
import { readCustomValue } from '@kettle/core/fields';
import { ApiProblem } from '../../api/api';
import { field } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords } from './people-words';

/** What is typed into custom fields, by field id; stands in its form as `custom`. */
export type CustomControls = FormRecord<FormControl<string>>;

export const customControls = (): CustomControls => new FormRecord({});

/** Adds what is not there yet: the fields may come after the form that shows them. */
export function addCustomControls(
  controls: CustomControls,
  values: Readonly<Record<string, CustomValue>>,
  fields: readonly CustomField[],
  currency: string,
): void {
  for (const each of fields)
    if (!controls.contains(each.id))
      controls.addControl(each.id, field(textOf(values[each.id] ?? null, each, currency)));
}

/** What was typed, read by each field's type: those that differ from before, or what is wrong with the first that does not fit. */
export function readCustom(
  controls: CustomControls,
  fields: readonly CustomField[],
  before: Readonly<Record<string, CustomValue>>,
  currency: string,
): Record<string, CustomValue> | ApiProblem {
  const values: Record<string, CustomValue> = {};
  for (const each of fields) {
    const text = controls.controls[each.id]?.value;
    // A field that was not shown yet was not emptied.
    if (text === undefined) continue;
    const read = readCustomValue(text, each, currency);
    if (read.kind === 'wrong') {
      const wrong = [{ path: `custom.${each.id}`, message: read.reason }];
      return new ApiProblem('invalid-request', `${each.name}: ${read.reason}.`, wrong);
    }
    if (read.value !== (before[each.id] ?? null)) values[each.id] = read.value;
  }
  return values;
}

function textOf(value: CustomValue, { type }: CustomField, currency: string): string {
  if (typeof value === 'number') return type === 'money' ? writeMoney(value, currency) : writeNumber(value);
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value ?? '');
}

/**
 * The custom fields of one record in its form: their controls, what was typed into them, and their names and values in a conflict.
 * Made where things are injected.
 * @example
 * readonly own = new OwnFields('lead', this.before?.custom);
 * readonly form = new RecordForm({ subject: field(''), custom: this.own.controls });
 */
export class OwnFields {
  private readonly words = inject(PeopleWords);
  private readonly user = inject(CurrentUser);
  readonly controls = customControls();
  readonly fields = computed(() => this.words.fieldsOf(this.subject));

  constructor(
    private readonly subject: CustomSubject,
    private readonly before: Readonly<Record<string, CustomValue>> = {},
  ) {
    effect(() => addCustomControls(this.controls, this.before, this.fields(), this.user.currency()));
  }

  /** Those that differ from before, or what is wrong with the first that does not fit. */
  read(): Record<string, CustomValue> | ApiProblem {
    return readCustom(this.controls, this.fields(), this.before, this.user.currency());
  }

  readonly named = (path: string): string | null => this.at(path)?.name ?? null;

  readonly say = (path: string, value: unknown): string | null => {
    const field = this.at(path);
    return field ? this.words.custom(value as CustomValue, field.type) || null : null;
  };

  private at(path: string): CustomField | undefined {
    return this.fields().find(({ id }) => path === `custom.${id}`);
  }
}
