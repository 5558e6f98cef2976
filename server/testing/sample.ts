import { idKindOf } from '@kettle/contract/base/ids';
import type * as z from 'zod';

/** What a sample is made of: an id for each kind, and one of them somewhere else. */
export interface Ids {
  /** The id of a kind, wherever none is said. */
  readonly of: (kind: string) => string;
  /** Where another's id stands, and which. */
  readonly at: { readonly path: string; readonly kind: string; readonly id: string };
}

type Schema = z.core.$ZodType;

const texts = [
  'x',
  'a@penrow.example',
  '2026-12-01',
  '2026-11-20T09:00:00.000Z',
  'GB',
  'GBP',
  'GB123456789',
  'Europe/London',
  '+441632960123',
  'call-spoke',
  'https://penrow.example/',
  'a long enough password',
  'x.txt',
  '09:00',
  'eA==',
  'x'.repeat(43),
  '01938f6c-0000-7000-8000-000000000009',
];
const numbers = [1, 2, 5, 30, 600, 0, 0.5, 2000];

/**
 * The smallest value that a schema takes as input: lists are empty and what may be left out is left out, but for the way to one id.
 * @throws Error where no sample is known
 */
export function sampleOf(schema: Schema, ids: Ids, path = ''): unknown {
  const kind = idKindOf(schema);
  if (kind !== undefined) return path === ids.at.path && kind === ids.at.kind ? ids.at.id : ids.of(kind);
  const def = (schema as z.core.$ZodTypes)._zod.def;
  const leadsThere =
    ids.at.path === path || ['.', '[', '{'].some((sign) => ids.at.path.startsWith(path + sign));
  const isOnWay = path === '' || leadsThere;
  switch (def.type) {
    case 'object':
      return Object.fromEntries(
        Object.entries(def.shape)
          .map(([key, part]) => [key, sampleOf(part, ids, path === '' ? key : `${path}.${key}`)] as const)
          .filter(([, value]) => value !== undefined),
      );
    case 'array':
      return isOnWay || !(schema as z.ZodType).safeParse([]).success
        ? [sampleOf(def.element, ids, `${path}[]`)]
        : [];
    case 'union':
      return sampleOf(optionOf(def.options, ids, path), ids, path);
    case 'optional':
    case 'default':
    case 'prefault':
    case 'catch':
      return isOnWay && path !== '' ? sampleOf(def.innerType, ids, path) : undefined;
    case 'nullable':
      return isOnWay && path !== '' ? sampleOf(def.innerType, ids, path) : null;
    case 'readonly':
    case 'nonoptional':
      return sampleOf(def.innerType, ids, path);
    case 'pipe':
      return leafOf(schema) ?? sampleOf(def.in, ids, path);
    case 'record':
      return isOnWay && path !== ''
        ? { [String(sampleOf(def.keyType, ids, `${path}{}`))]: sampleOf(def.valueType, ids, `${path}{}`) }
        : {};
    default: {
      const leaf = leafOf(schema);
      if (leaf === undefined) throw new Error(`no sample of ${def.type} at ${path}`);
      return leaf;
    }
  }
}

/** The option of a union that the wanted id is in, or the first there is a sample of. */
function optionOf(options: readonly Schema[], ids: Ids, path: string): Schema {
  const has = (option: Schema) => JSON.stringify(sampleOf(option, ids, path))?.includes(ids.at.id) ?? false;
  const sampled = options.filter((option) => {
    try {
      sampleOf(option, ids, path);
      return true;
    } catch {
      return false;
    }
  });
  return sampled.find(has) ?? sampled[0] ?? options[0]!;
}

function leafOf(schema: Schema): unknown {
  const def = (schema as z.core.$ZodTypes)._zod.def;
  const known: unknown[] =
    def.type === 'literal'
      ? [...def.values]
      : def.type === 'enum'
        ? Object.values(def.entries)
        : [...texts, ...numbers, true];
  return known.find((each) => (schema as z.ZodType).safeParse(each).success);
}
