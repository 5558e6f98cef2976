import { type RouteSpec } from '../base/route';
import { closeReasons } from './close-reasons';
import { changeJournalSettings, journalSettings } from './schemas';

export const settingsRoutes = {
  journalSettings: {
    access: 'rep',
    summary: 'Outcomes, what counts as a touch, checklists',
    reply: journalSettings,
  },
  changeJournalSettings: {
    access: 'admin',
    summary: 'Change outcomes, what counts as a touch, checklists',
    body: changeJournalSettings,
    reply: journalSettings,
  },
  closeReasons: { access: 'rep', summary: 'Reasons to choose from', reply: closeReasons },
  changeCloseReasons: {
    access: 'admin',
    summary: 'Change the reasons to choose from',
    body: closeReasons,
    reply: closeReasons,
  },
} as const satisfies Record<string, RouteSpec>;
