import * as z from 'zod';
import { type RouteSpec } from '../base/route';
import { countryCode } from '../base/values';
import { changeCloseReasons, closeReasons } from './close-reasons';
import {
  changeOrganisationSettings,
  changeRoundSettings,
  holidayRegion,
  organisationSettings,
  roundSettings,
} from './organisation';
import { changeRightsSettings, rightsSettings } from './rights';
import { changeSetup, setup } from './setup';
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
  organisationSettings: {
    access: 'rep',
    summary: 'Currency, country, zone and exchange rates of the organisation',
    reply: organisationSettings,
  },
  changeOrganisationSettings: {
    access: 'admin',
    summary: 'Change currency, country, zone and exchange rates of the organisation',
    body: changeOrganisationSettings,
    reply: organisationSettings,
  },
  holidayRegions: {
    access: 'rep',
    summary: 'Parts of a country whose holidays differ',
    query: z.object({ country: countryCode }),
    reply: z.object({ regions: z.array(holidayRegion) }),
  },
  roundSettings: { access: 'rep', summary: 'What the Round reckons with', reply: roundSettings },
  changeRoundSettings: {
    access: 'admin',
    summary: 'Change what the Round reckons with',
    body: changeRoundSettings,
    reply: roundSettings,
  },
  rightsSettings: { access: 'rep', summary: 'Who may read and share what', reply: rightsSettings },
  changeRightsSettings: {
    access: 'admin',
    summary: 'Change who may read and share what',
    body: changeRightsSettings,
    reply: rightsSettings,
  },
  setup: { access: 'admin', summary: 'What a new installation still has to be set up with', reply: setup },
  changeSetup: {
    access: 'admin',
    summary: 'Leave out steps of setting up, or take them up again',
    body: changeSetup,
    reply: setup,
  },
  closeReasons: { access: 'rep', summary: 'Reasons to choose from', reply: closeReasons },
  changeCloseReasons: {
    access: 'admin',
    summary: 'Change the reasons to choose from',
    body: changeCloseReasons,
    reply: closeReasons,
  },
} as const satisfies Record<string, RouteSpec>;
