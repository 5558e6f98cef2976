import type { HomeCardKind } from './kinds';

export const homeCardLabel: Readonly<Record<HomeCardKind, string>> = {
  today: $localize`Today`,
  team: $localize`The team’s day`,
  month: $localize`Month against quota`,
  forecast: $localize`Forecast of the month`,
  lanes: $localize`Open deals by stage`,
  standings: $localize`People by standing`,
  leads: $localize`Leads by status`,
  renewals: $localize`Renewals at stake`,
  effort: $localize`Effort of the team`,
  stirrings: $localize`Stirrings`,
  log: $localize`Team log`,
  view: $localize`A saved view`,
};
