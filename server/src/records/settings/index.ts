export { settingsFeature } from './feature';
export { askForTouchFacts, enqueueTouchFacts, touchFactsKind, touchFactsPart } from './ask-for-touch-facts';
export {
  Calendars,
  regionsOf,
  usualDaysOff,
  usualHours,
  weekdaysOf,
  zoneAt,
  zoneOfCountry,
} from './calendars';
export { changeSetting } from './change-setting';
export { deriveHomeAmounts } from './home-amounts';
export { keepLearned, readLearned, type Learned } from './learned';
export { readCurrencies } from './organisation.routes';
export { Settings, outcomeNamed, settingOf, type AllSettings } from './settings';
export {
  readDefaultStanding,
  readStandings,
  saveStandings,
  standingColumns,
  standingOf,
  type StandingRow,
} from './standings';
