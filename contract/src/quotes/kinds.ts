/** `lapsed` is one that was sent and whose day is over; the others are as somebody made them. */
export const quoteStates = ['draft', 'sent', 'accepted', 'declined', 'withdrawn', 'lapsed'] as const;
export type QuoteState = (typeof quoteStates)[number];
