export const root: string;
export const dataFolder: string;
/** Where the keys of an installation lie that the commands start. */
export function keyFileOf(name: string): string;
export const fromSources: readonly string[];
