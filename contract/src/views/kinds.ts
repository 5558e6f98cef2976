/** Places whose views are saved under a name: lists of records, and the reports under Numbers. */
export const viewPlaces = [
  'people',
  'companies',
  'tasks',
  'deals',
  'leads',
  'agreements',
  'mail',
  'numbers',
] as const;
