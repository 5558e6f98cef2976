import * as z from 'zod';
import type { Catalogue, PlainField, PlainFields, PlainValue } from './plain-fields';
import { line, notes, plainDate } from './values';

type Shape<Fields extends PlainFields> = {
  [Key in keyof Fields]: z.ZodType<PlainValue<Fields[Key]>, PlainValue<Fields[Key]>>;
};

/** The fields of a catalogue as a schema asks for them; what is not required may be empty, unless it is never. */
export const plainShape = <Fields extends PlainFields>(catalogue: Catalogue<Fields>) =>
  catalogue.each((_, field) => schemaOf(field)) as unknown as Shape<Fields>;

/** The same where a caller may leave each of them out: it is empty then, or what it is otherwise. */
export const newPlainShape = <Fields extends PlainFields>(catalogue: Catalogue<Fields>) =>
  catalogue.each((_, field) =>
    field.isRequired ? schemaOf(field) : schemaOf(field).default((field.otherwise ?? null) as never),
  ) as unknown as {
    [Key in keyof Fields]: Fields[Key] extends { readonly isRequired: true }
      ? Shape<Fields>[Key]
      : z.ZodDefault<Shape<Fields>[Key]>;
  };

const webAddress = z.url({
  protocol: /^https?$/,
  error: $localize`must be a web address such as https://forum.example/1234`,
});

function schemaOf(field: PlainField): z.ZodType {
  const filled = filledOf(field);
  return field.isRequired || field.otherwise !== undefined ? filled : filled.nullable();
}

function filledOf({ type, choices, most, isRequired }: PlainField): z.ZodType {
  switch (type) {
    case 'choice':
      return z.enum(choices!);
    case 'date':
      return plainDate;
    case 'notes':
      return notes;
    case 'link':
      return webAddress.max(most!);
    case 'text':
      return isRequired ? line(most) : z.string().trim().max(most!);
  }
}
