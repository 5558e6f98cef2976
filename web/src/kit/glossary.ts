/** Our own words with what they mean in one line, as `docs/glossary.md` has them; behind `?` and on hover. */
export const glossary = {
  Round: $localize`the day's computed queue: what to do today, in order`,
  'walk the round': $localize`working it one item at a time in a focused view`,
  'cost of waiting': $localize`what leaving an item for its next likely day is estimated to cost, in money`,
  'cut line': $localize`the place in the Round where the day's free minutes run out`,
  tether: $localize`the small strip drawn for every person and deal: last touch, today, next step`,
  'late, today, held, loose': $localize`the four states of a tether: next step overdue, due today, planned, none at all`,
  journal: $localize`the ordered record of everything that happened to a contact, company or deal`,
  touch: $localize`a journal entry that counts as contact; an attempt is one-sided, a conversation two-sided`,
  standing: $localize`the one status a contact has, with its check-in interval in days`,
  quiet: $localize`a contact whose last counting touch is older than the check-in interval`,
  patience: $localize`the days a deal may stay in a stage without a change before it is stalled`,
  parked: $localize`a deal taken off the lanes until a wake date, with the reason`,
  run: $localize`one contact's passage through a cadence`,
  'stage brief': $localize`prompts to tick and tasks to create when a deal enters a stage`,
  archived: $localize`kept and found by search, in no list, count or Round; back with whatever happens next`,
  appointment: $localize`time that is taken; with a customer it is their next step as well`,
  agreement: $localize`what a customer has bought for a term`,
  stirrings: $localize`signs of life from outside: opened, clicked, replied, bounced`,
  Jot: $localize`the one-line capture bar`,
  dossier: $localize`the side panel, and the page, for one contact, company, lead or deal`,
  'day spine': $localize`the column at the left edge: today's hours, appointments and free minutes`,
  lanes: $localize`the deal view: a lane for each stage, deals along a time axis`,
  stave: $localize`the cadence builder: channels as lines, working days as the axis`,
} as const;

export type OwnWord = keyof typeof glossary;
