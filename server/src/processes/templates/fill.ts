import type { Filled } from '@kettle/contract';
import { Drop, Liquid, LiquidError } from 'liquidjs';

/** What a text may ask for: groups of facts, each with a value or null when it is not known. */
export type Facts = Readonly<Record<string, Readonly<Record<string, string | null>>>>;

/** A fact that is not known. Empty in conditions and for `default:`; where it would be printed it is noted. */
class MissingFact extends Drop {
  constructor(readonly factName: string) {
    super();
  }
  override valueOf(): null {
    return null;
  }
}

/** Enough for any letter, and an end for a text that was written to have none. */
const limits = { parseLimit: 60_000, renderLimit: 500, memoryLimit: 2_000_000 };

/**
 * Fills a text with facts. A fact that is asked for and not known is named, and its place stays in the text, so that no hole
 * can be overlooked; a condition around it or `default:` after it makes it optional. Snippets are brought in by `{% include 'name' %}`.
 */
export function fill(
  text: { readonly subject: string; readonly body: string },
  facts: Facts,
  snippets: Readonly<Record<string, string>>,
): Filled {
  const missing = new Set<string>();
  const engine = new Liquid({
    ...limits,
    strictVariables: true,
    strictFilters: true,
    ownPropertyOnly: true,
    templates: { ...snippets },
    outputEscape: (value: unknown) => {
      if (!(value instanceof MissingFact)) return String(value ?? '');
      missing.add(value.factName);
      return `{{ ${value.factName} }}`;
    },
  });
  const wrong: string[] = [];
  const render = (part: string, name: string) => {
    try {
      return engine.parseAndRenderSync(part, scopeOf(facts)) as string;
    } catch (error) {
      wrong.push(`${name}: ${sayError(error)}`);
      return '';
    }
  };
  const subject = render(text.subject, 'subject').replace(/\s+/g, ' ').trim();
  const body = render(text.body, 'text')
    .replace(/\n{3,}/g, '\n\n')
    .trim();
  return { subject, body, missing: [...missing], wrong };
}

function scopeOf(facts: Facts): object {
  return Object.fromEntries(
    Object.entries(facts).map(([group, known]) => [
      group,
      Object.fromEntries(
        Object.entries(known).map(([name, value]) => [
          name,
          value === null || value === '' ? new MissingFact(`${group}.${name}`) : value,
        ]),
      ),
    ]),
  );
}

function sayError(error: unknown): string {
  if (!LiquidError.is(error)) return $localize`cannot be read`;
  const words = error.message.split('\n')[0]!.replace(/, line:.*$/, '');
  const line = /line:(\d+)/.exec(error.message)?.[1];
  return line ? $localize`line ${line}:line:: ${words}:words:` : words;
}
