export { cadencesFeature } from './feature';
export { applyEvent, settingOfRun, taskOfEffect, type AppliedEvent } from './apply-event';
export { askToSendStep } from './ask-to-send-step';
export { insertCadence, readCurrentVersion } from './cadence-rows';
export { handRunsOver } from './follow-owner';
export { planSettingOf, readPlannable } from './plan-setting';
export { readRun, readRunsOf, type StoredRun } from './run-rows';
export { createCadence, saveCadence } from './save-cadence';
export { tellRuns } from './tell-runs';
