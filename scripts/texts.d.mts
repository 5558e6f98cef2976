/** A language's texts by id. */
export function readLanguage(language: string): Record<string, string>;
export function buildTexts(language: string, texts: Record<string, string>, folder: string): Promise<void>;
