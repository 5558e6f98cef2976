export { NextStepForm, type NextStepDraft } from './next-step-form';
