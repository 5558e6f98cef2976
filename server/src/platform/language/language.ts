import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { type ɵParsedTranslation, ɵparseTranslation, ɵtranslate } from '@angular/localize';
import type { Request } from 'express';
import * as z from 'zod';
import { requestContext } from '../work/request';

interface Language {
  readonly byId: Record<string, ɵParsedTranslation>;
  /** By the English text, of those that nothing is filled into. */
  readonly byText: ReadonlyMap<string, string>;
}

const languages = new Map<string, Language>();
const texts = z.record(z.string(), z.string());

/**
 * Reads the texts of each language that was built beside English (`texts/<language>.json` of the interface's folder). From then on what is said
 * while a request is answered is said in its language; English costs nothing for it.
 */
export function loadLanguages(web: string): void {
  languages.clear();
  $localize.translate = undefined;
  const folder = path.join(web, 'texts');
  if (!existsSync(folder)) return;
  const read = (name: string) => texts.parse(JSON.parse(readFileSync(path.join(folder, name), 'utf8')));
  const english = read('en.json');
  for (const name of readdirSync(folder).filter((each) => each !== 'en.json')) {
    const said = read(name);
    languages.set(path.basename(name, '.json'), {
      byId: Object.fromEntries(Object.entries(said).map(([id, text]) => [id, ɵparseTranslation(text)])),
      byText: new Map(Object.entries(said).map(([id, text]) => [english[id] ?? text, text])),
    });
  }
  if (languages.size > 0) $localize.translate = translate;
}

/** The language that a browser asks for, of those there are. */
export const languageOf = (request: Request): string =>
  request.acceptsLanguages(['en', ...languages.keys()]) || 'en';

/** A text that stands in a table or a schema, where it was read before anybody asked, in a language. */
export const saidIn = (language: string, text: string): string =>
  languages.get(language)?.byText.get(text) ?? text;

/** The same in the language of the request that is being answered. */
export const saidNow = (text: string): string => saidIn(requestContext.getStore()?.language ?? 'en', text);

function translate(
  parts: TemplateStringsArray,
  values: readonly unknown[],
): [TemplateStringsArray, readonly unknown[]] {
  const language = languages.get(requestContext.getStore()?.language ?? 'en');
  if (language === undefined) return [parts, values];
  try {
    return ɵtranslate(language.byId, parts, values);
  } catch {
    // What a language lacks stays English.
    return [parts, values];
  }
}
