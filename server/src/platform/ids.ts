import { parse, v5, v7 } from 'uuid';

declare const idBrand: unique symbol;

/** Row form of an id, as the database keeps it; the brand says whose id it is, and is there for the compiler alone. */
export type IdBytes<Id extends string = string> = Buffer & { readonly [idBrand]?: Id };

export function newId<Id extends string>(): Id {
  return v7() as Id;
}

/** The same id for the same name, inside a namespace id: a repeated write meets its own key. */
export function idNamed<Id extends string>(name: string, namespace: string): Id {
  return v5(name, namespace) as Id;
}

export function bytesOf<Id extends string>(id: Id): IdBytes<Id>;
export function bytesOf<Id extends string>(id: Id | null | undefined): IdBytes<Id> | null;
export function bytesOf<Id extends string>(id: Id | null | undefined): IdBytes<Id> | null {
  return id === null || id === undefined ? null : Buffer.from(parse(id));
}

export function idOf<Id extends string>(bytes: IdBytes<Id>): Id {
  const hex = bytes.toString('hex');
  // Written out, because a Round maps tens of thousands of them.
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}` as Id;
}

export function idOrNull<Id extends string>(bytes: IdBytes<Id> | null): Id | null {
  return bytes === null ? null : idOf<Id>(bytes);
}
