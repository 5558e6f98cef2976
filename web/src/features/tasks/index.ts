export { TaskActs } from './task-acts';
export { NextStepForm, type NextStepDraft } from './next-step-form';
