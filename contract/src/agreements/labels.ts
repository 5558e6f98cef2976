import type { AgreementRow, RenewalWindow } from './schemas';

export const agreementStateLabel: Readonly<Record<AgreementRow['state'], string>> = {
  ahead: $localize`ahead`,
  running: $localize`running`,
  over: $localize`over`,
  ended: $localize`ended`,
};

export const renewalDecisionLabel: Readonly<Record<AgreementRow['decision'], string>> = {
  open: $localize`open`,
  renewed: $localize`renewed`,
  leaving: $localize`leaves`,
};

export const renewalWindowLabel: Readonly<Record<RenewalWindow, string>> = {
  lead: $localize`to talk about`,
  notice: $localize`notice this month`,
  over: $localize`over`,
  renewed: $localize`renewed`,
  lost: $localize`lost`,
};
