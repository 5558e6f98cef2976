/** What a file holds, in the order in which files that belong together are written: each finds what the ones before brought. */
export const importKinds = [
  ...(['people', 'companies', 'products', 'leads'] as const),
  ...(['deals', 'agreements', 'tasks', 'notes'] as const),
] as const;
export type ImportKind = (typeof importKinds)[number];
/** What has its columns from a catalogue; people have their own way of being told apart. */
export type RecordKind = Exclude<ImportKind, 'people'>;

export const importKindLabel: Record<ImportKind, string> = {
  people: $localize`people`,
  companies: $localize`companies`,
  products: $localize`products`,
  leads: $localize`leads`,
  deals: $localize`deals`,
  agreements: $localize`agreements`,
  tasks: $localize`tasks`,
  notes: $localize`notes`,
};

/** One of them and several, to be counted. */
export const importKindForms: Record<ImportKind, string> = {
  people: $localize`person|people`,
  companies: $localize`company|companies`,
  products: $localize`product|products`,
  leads: $localize`lead|leads`,
  deals: $localize`deal|deals`,
  agreements: $localize`agreement|agreements`,
  tasks: $localize`task|tasks`,
  notes: $localize`note|notes`,
};

/** The same of what is not here yet. */
export const newKindForms: Record<ImportKind, string> = {
  people: $localize`new person|new people`,
  companies: $localize`new company|new companies`,
  products: $localize`new product|new products`,
  leads: $localize`new lead|new leads`,
  deals: $localize`new deal|new deals`,
  agreements: $localize`new agreement|new agreements`,
  tasks: $localize`new task|new tasks`,
  notes: $localize`new note|new notes`,
};

/** In which order a file writes day, month and year. */
export const dateOrders = ['dmy', 'mdy', 'ymd'] as const;
export type DateOrder = (typeof dateOrders)[number];
/** What stands before the places of a number: 1,234.50 or 1.234,50. */
export const decimalMarks = ['point', 'comma'] as const;
export type DecimalMark = (typeof decimalMarks)[number];

export interface FileFormats {
  readonly dates: DateOrder;
  readonly numbers: DecimalMark;
}

export const dateOrderLabel: Record<DateOrder, string> = {
  dmy: $localize`day/month/year`,
  mdy: $localize`month/day/year`,
  ymd: $localize`year/month/day`,
};
export const decimalMarkLabel: Record<DecimalMark, string> = {
  point: $localize`1,234.50`,
  comma: $localize`1.234,50`,
};

/** What happens to a row that is likely one that is here: nothing, one of its own, or it is the one that is here. */
export const rowChoices = ['leave', 'new', 'same'] as const;
export type RowChoice = (typeof rowChoices)[number];
export const rowChoiceLabel: Record<RowChoice, string> = {
  leave: $localize`leave it out`,
  new: $localize`one of its own`,
  same: $localize`the one that is here`,
};
