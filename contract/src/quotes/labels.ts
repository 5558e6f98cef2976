import type { QuoteState } from './kinds';

export const quoteStateLabel: Readonly<Record<QuoteState, string>> = {
  draft: $localize`draft`,
  sent: $localize`sent`,
  accepted: $localize`accepted`,
  declined: $localize`declined`,
  withdrawn: $localize`withdrawn`,
  lapsed: $localize`lapsed`,
};
