/** Our own words with what they mean in one line, as `docs/glossary.md` has them; behind `?` and on hover. */
export const glossary = {
  Round: "the day's computed queue: what to do today, in order",
  'walk the round': 'working it one item at a time in a focused view',
  'cost of waiting': 'what leaving an item for its next likely day is estimated to cost, in money',
  'cut line': "the place in the Round where the day's free minutes run out",
  tether: 'the small strip drawn for every person and deal: last touch, today, next step',
  'late, today, held, loose':
    'the four states of a tether: next step overdue, due today, planned, none at all',
  journal: 'the ordered record of everything that happened to a contact, company or deal',
  touch: 'a journal entry that counts as contact; an attempt is one-sided, a conversation two-sided',
  standing: 'the one status a contact has, with its check-in interval in days',
  quiet: 'a contact whose last counting touch is older than the check-in interval',
  patience: 'the days a deal may stay in a stage without a change before it is stalled',
  parked: 'a deal taken off the lanes until a wake date, with the reason',
  run: "one contact's passage through a cadence",
  'stage brief': 'prompts to tick and tasks to create when a deal enters a stage',
  archived: 'kept and found by search, in no list, count or Round; back with whatever happens next',
  agreement: 'what a customer has bought for a term',
  stirrings: 'signs of life from outside: opened, clicked, replied, bounced',
  Jot: 'the one-line capture bar',
  dossier: 'the side panel, and the page, for one contact, company, lead or deal',
  'day spine': "the column at the left edge: today's hours, meetings and free minutes",
  lanes: 'the deal view: a lane for each stage, deals along a time axis',
  stave: 'the cadence builder: channels as lines, working days as the axis',
} as const;

export type OwnWord = keyof typeof glossary;
