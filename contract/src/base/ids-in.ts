import type * as z from 'zod';
import { idKindOf } from './ids';

/** Where a schema has ids: `people[].contactId` is of a `contact`. */
export interface IdField {
  /** Names joined by dots; `[]` stands for every place of a list, `{}` for every key of a record. */
  readonly path: string;
  readonly kind: string;
}

/** One id of a value that a schema was parsed to. */
export interface IdInValue extends IdField {
  readonly id: string;
}

type Schema = z.core.$ZodType;
type Visit = (field: IdField, value: unknown) => void;

/** Every field of a schema that holds an id, each once. */
export function idFieldsOf(schema: Schema): IdField[] {
  const fields = new Map<string, IdField>();
  walk(schema, '', (field) => fields.set(`${field.kind} ${field.path}`, field));
  return [...fields.values()];
}

/**
 * Every id in a value, with what it is of. The value is the schema's output.
 * @example
 * idsIn(z.object({ contactId, people: z.array(contactId) }), { contactId: a, people: [b] });
 * // [{ path: 'contactId', kind: 'contact', id: a }, { path: 'people[]', kind: 'contact', id: b }]
 */
export function idsIn(schema: Schema, value: unknown): IdInValue[] {
  const found: IdInValue[] = [];
  walk(
    schema,
    '',
    (field, id) => {
      if (typeof id === 'string') found.push({ ...field, id });
    },
    { value },
  );
  return found;
}

/** Goes through a schema, and through a value beside it where there is one. */
function walk(schema: Schema, path: string, visit: Visit, at?: { readonly value: unknown }): void {
  if (at && (at.value === undefined || at.value === null)) return;
  const kind = idKindOf(schema);
  if (kind !== undefined) {
    visit({ path, kind }, at?.value);
    return;
  }
  const def = (schema as z.core.$ZodTypes)._zod.def;
  switch (def.type) {
    case 'object':
      for (const [key, part] of Object.entries(def.shape))
        walk(part, path === '' ? key : `${path}.${key}`, visit, partOf(at, key));
      break;
    case 'array':
      for (const part of placesOf(at)) walk(def.element, `${path}[]`, visit, part);
      break;
    case 'record':
      for (const part of keysOf(at)) walk(def.keyType, `${path}{}`, visit, part);
      for (const part of placesOf(at)) walk(def.valueType, `${path}{}`, visit, part);
      break;
    case 'union':
      for (const option of optionsOf(def.options, at)) walk(option, path, visit, at);
      break;
    case 'optional':
    case 'nullable':
    case 'default':
    case 'prefault':
    case 'readonly':
    case 'catch':
    case 'nonoptional':
      walk(def.innerType, path, visit, at);
      break;
    case 'pipe':
      walk(def.in, path, visit, at);
      break;
    default:
  }
}

type At = { readonly value: unknown } | undefined;

const partOf = (at: At, key: string): At =>
  at && { value: (at.value as Readonly<Record<string, unknown>>)[key] };

/** One place without a value, or each place of the value. */
const placesOf = (at: At): At[] =>
  at === undefined ? [undefined] : Object.values(at.value as object).map((value: unknown) => ({ value }));

const keysOf = (at: At): At[] =>
  at === undefined ? [undefined] : Object.keys(at.value as object).map((value) => ({ value }));

/** Of a union those options that the value is of. */
const optionsOf = (options: readonly Schema[], at: At): readonly Schema[] =>
  at === undefined ? options : options.filter((option) => (option as z.ZodType).safeParse(at.value).success);
