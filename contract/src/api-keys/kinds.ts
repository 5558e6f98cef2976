/** Parts of the application that a key opens, each to read or also to change. */
export const keyAreas = [
  'people',
  'journal',
  'work',
  'deals',
  'calendar',
  'mail',
  'data',
  'settings',
] as const;
export type KeyArea = (typeof keyAreas)[number];

export const keyAreaLabel: Record<KeyArea, string> = {
  people: $localize`People and companies`,
  journal: $localize`Journal and talk`,
  work: $localize`Round, tasks and cadences`,
  deals: $localize`Leads, deals and agreements`,
  calendar: $localize`Calendar and days on the road`,
  mail: $localize`Mail, calls, texts and templates`,
  data: $localize`Files, imports and bulk changes`,
  settings: $localize`Settings, views and Home`,
};

/** `people:read` reads; `people:write` reads and changes. */
export type KeyScope = `${KeyArea}:${'read' | 'write'}`;
export const keyScopes: readonly KeyScope[] = keyAreas.flatMap((area): KeyScope[] => [
  `${area}:read`,
  `${area}:write`,
]);

/** How often a key may ask in an hour. */
export const keyUsesPerHour = 6000;
/** How many keys a person has at most that still count. */
export const mostKeys = 20;

/** @example opens(['people:write'], 'people', 'read') // true */
export function opens(scopes: readonly KeyScope[], area: KeyArea, way: 'read' | 'write'): boolean {
  return scopes.includes(`${area}:write`) || (way === 'read' && scopes.includes(`${area}:read`));
}
