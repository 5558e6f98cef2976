import * as z from 'zod';
import {
  cadenceFile,
  cadenceResults,
  cadenceSummary,
  cadenceVersion,
  changeRun,
  changeRuns,
  changedRuns,
  createCadence,
  examplePlan,
  moveRuns,
  movedRuns,
  planExample,
  planStart,
  readCadence,
  runPage,
  runSummary,
  runTable,
  saveCadence,
  startPlan,
  startRuns,
  startedRuns,
} from './cadence';
import {
  agreementList,
  agreementRow,
  changeDeal,
  closeDeal,
  createAgreement,
  createDeal,
  deal,
  dealList,
  listAgreements,
  listDeals,
  moveDeal,
  reopenDeal,
  pipeline,
} from './deals';
import { bulkPlan, bulkProgress, startBulk } from './bulk';
import { changesAfter } from './changes';
import { likeContact, likeDraft, likelyPairs, mergeContacts, merged, mergeList, pairIds } from './duplicates';
import type { EndpointName } from './endpoints';
import { changeCustomField, createCustomField, customField, customSubject } from './fields';
import { fileSubject, storedFile, uploadFile } from './files';
import {
  bulkId,
  companyId,
  contactId,
  customFieldId,
  dealId,
  entryId,
  fileId,
  meetingId,
  mergeId,
  runId,
  taskId,
  userId,
  viewId,
  mailId,
  phoneCallId,
  snippetId,
  stirringId,
  templateId,
} from './ids';
import { jotReading, readJot } from './jot';
import {
  decideHeld,
  dial,
  draftMail,
  fileMail,
  fileStirring,
  handleStirring,
  listMail,
  listStirrings,
  listTexts,
  mail,
  mailDraft,
  mailList,
  mailRow,
  overMail,
  phoneCall,
  sendMail,
  sendText,
  stirring,
  storedMailSettings,
  textRow,
} from './mail';
import { notificationList } from './notifications';
import { search, searchHits } from './search';
import { changeJournalSettings, journalSettings, saveStandings } from './settings';
import {
  changeSnippet,
  changeTemplate,
  createSnippet,
  createTemplate,
  filled,
  fillText,
  mergeFact,
  snippet,
  template,
} from './templates';
import { changeView, pinView, savedView, saveView, viewPlace } from './views';
import { confirmImport, importPreview, remapImport, uploadImport } from './imports';
import {
  editEntry,
  entryHistory,
  journalPage,
  listJournal,
  logEntry,
  logged,
  removeEntry,
  writeComment,
  writeNote,
} from './journal';
import {
  changeCell,
  changeCompany,
  changeContact,
  company,
  companyPage,
  contact,
  contactCount,
  contactGroups,
  contactPage,
  contactQuery,
  contactRow,
  createContact,
  handOver,
  listContacts,
  standingCount,
} from './people';
import {
  createMeeting,
  moveRows,
  movedRows,
  placeRow,
  round,
  roundFilters,
  spine,
  spineBlock,
  walkItem,
  walkQuery,
} from './round';
import {
  changeMyHours,
  colleague,
  createFirstAdmin,
  createUser,
  doorstep,
  person,
  session,
  signIn,
} from './session';
import { changeTask, createTask, deferTask, dropTask, overVersion, task, taskPage, taskTable } from './tasks';
import { plainDate } from './values';

/** Who may call a route at all. What a rep may do to a single record is decided by its owner, in the use case. */
export type Access = 'anyone' | 'rep' | 'manager' | 'admin';

export interface RouteSpec {
  readonly access: Access;
  readonly summary: string;
  readonly params?: z.ZodObject;
  readonly query?: z.ZodObject;
  readonly body?: z.ZodType;
  readonly reply: z.ZodType;
}

const byId = z.object({ id: z.uuid() });
const nothing = z.object({});
const ok = z.object({ ok: z.literal(true) });

/** Every route of the application: the one table that server, browser, OpenAPI and the rights test share. */
export const routes = {
  doorstep: { access: 'anyone', summary: 'What the sign-in page offers', reply: doorstep },
  signIn: { access: 'anyone', summary: 'Sign in', body: signIn, reply: session },
  createFirstAdmin: {
    access: 'anyone',
    summary: 'Make the first admin of an empty installation',
    body: createFirstAdmin,
    reply: session,
  },
  session: { access: 'rep', summary: 'Who is signed in', reply: session },
  signOut: { access: 'rep', summary: 'Sign out', reply: ok },
  changeMyHours: {
    access: 'rep',
    summary: 'Change my zone and working hours',
    body: changeMyHours,
    reply: person,
  },
  listColleagues: {
    access: 'rep',
    summary: 'Everyone who can own records',
    reply: z.object({ people: z.array(colleague) }),
  },
  createUser: { access: 'admin', summary: 'Add a person who signs in', body: createUser, reply: person },
  health: { access: 'anyone', summary: 'Whether the server and its database answer', reply: ok },
  openApi: { access: 'anyone', summary: 'This description', reply: z.looseObject({}) },
  changes: {
    access: 'rep',
    summary: 'Server-sent events: what changed, from a known change on',
    query: changesAfter,
    reply: nothing,
  },

  listContacts: {
    access: 'rep',
    summary: 'Search and page through contacts',
    query: listContacts,
    reply: contactPage,
  },
  createContact: { access: 'rep', summary: 'Add a contact', body: createContact, reply: contact },
  getContact: {
    access: 'rep',
    summary: 'One contact',
    params: byId.extend({ id: contactId }),
    reply: contact,
  },
  changeContact: {
    access: 'rep',
    summary: 'Change a contact',
    params: byId.extend({ id: contactId }),
    body: changeContact,
    reply: contact,
  },
  countContacts: {
    access: 'rep',
    summary: 'How many contacts a view finds, and how many there are',
    query: contactQuery,
    reply: contactCount,
  },
  groupContacts: {
    access: 'rep',
    summary: 'Groups of a view with their counts, in the order of the list',
    query: listContacts,
    reply: contactGroups,
  },
  exportContacts: {
    access: 'rep',
    summary: 'A view as CSV: the columns named, in order',
    query: listContacts.extend({
      columns: z.string().max(2000).default(''),
      /** Picked ones instead of the view, with commas between. */
      ids: z
        .string()
        .transform((text) => text.split(',').filter(Boolean))
        .pipe(z.array(contactId).max(200))
        .optional(),
    }),
    reply: nothing,
  },
  likeContacts: {
    access: 'rep',
    summary: 'Who is likely the same as somebody being typed in, with evidence',
    body: likeDraft,
    reply: z.object({ like: z.array(likeContact) }),
  },
  listPairs: { access: 'rep', summary: 'Contacts that are likely the same', reply: likelyPairs },
  dismissPair: { access: 'rep', summary: 'Two contacts are two people', body: pairIds, reply: ok },
  mergeContacts: {
    access: 'rep',
    summary: 'Make two contacts one, field by field',
    body: mergeContacts,
    reply: merged,
  },
  listMerges: { access: 'rep', summary: 'Merges of the last 30 days', reply: mergeList },
  undoMerge: {
    access: 'rep',
    summary: 'Take a merge apart again',
    params: byId.extend({ id: mergeId }),
    reply: ok,
  },
  changeCell: {
    access: 'rep',
    summary: 'Change one field of a contact',
    params: byId.extend({ id: contactId }),
    body: changeCell,
    reply: contactRow,
  },
  claimContact: {
    access: 'rep',
    summary: 'Take a contact from the pool',
    params: byId.extend({ id: contactId }),
    reply: contactRow,
  },
  handOver: {
    access: 'rep',
    summary: 'Give a contact to a colleague or back to the pool',
    params: byId.extend({ id: contactId }),
    body: handOver,
    reply: contactRow,
  },
  listTags: {
    access: 'rep',
    summary: 'Tags in use',
    reply: z.object({ tags: z.array(z.object({ tag: z.string(), count: z.int() })) }),
  },
  saveStandings: {
    access: 'admin',
    summary: 'Change the standings, their order and intervals',
    body: saveStandings,
    reply: z.object({ standings: z.array(standingCount) }),
  },
  changeCompany: {
    access: 'rep',
    summary: 'Change a company and its sites',
    params: byId.extend({ id: companyId }),
    body: changeCompany,
    reply: company,
  },
  listCustomFields: {
    access: 'rep',
    summary: 'Fields an admin defined',
    query: z.object({ subject: customSubject.optional(), retired: z.enum(['yes']).optional() }),
    reply: z.object({ fields: z.array(customField) }),
  },
  createCustomField: {
    access: 'admin',
    summary: 'Define a field',
    body: createCustomField,
    reply: customField,
  },
  changeCustomField: {
    access: 'admin',
    summary: 'Rename, retire or bring back a field',
    params: byId.extend({ id: customFieldId }),
    body: changeCustomField,
    reply: customField,
  },
  planBulk: { access: 'rep', summary: 'What a bulk change would do', body: startBulk, reply: bulkPlan },
  startBulk: { access: 'rep', summary: 'Change many contacts', body: startBulk, reply: bulkProgress },
  getBulk: {
    access: 'rep',
    summary: 'How far a bulk change is',
    params: byId.extend({ id: bulkId }),
    reply: bulkProgress,
  },
  undoBulk: {
    access: 'rep',
    summary: 'Take a bulk change back',
    params: byId.extend({ id: bulkId }),
    reply: bulkProgress,
  },
  listViews: {
    access: 'rep',
    summary: 'My views and shared ones',
    query: z.object({ place: viewPlace }),
    reply: z.object({ views: z.array(savedView) }),
  },
  saveView: { access: 'rep', summary: 'Save a view under a name', body: saveView, reply: savedView },
  changeView: {
    access: 'rep',
    summary: 'Change a view of mine',
    params: byId.extend({ id: viewId }),
    body: changeView,
    reply: savedView,
  },
  removeView: {
    access: 'rep',
    summary: 'Remove a view of mine',
    params: byId.extend({ id: viewId }),
    reply: ok,
  },
  pinView: {
    access: 'rep',
    summary: 'Land on this view, or no longer',
    params: byId.extend({ id: viewId }),
    body: pinView,
    reply: ok,
  },
  search: { access: 'rep', summary: 'Search across everything', query: search, reply: searchHits },
  readJot: { access: 'rep', summary: 'What one line means', body: readJot, reply: jotReading },
  listNotifications: { access: 'rep', summary: 'What I was told', reply: notificationList },
  readNotifications: { access: 'rep', summary: 'I have seen them', reply: ok },
  uploadFile: {
    access: 'rep',
    summary: 'Keep a file (its bytes are the body)',
    query: uploadFile,
    reply: storedFile,
  },
  listFiles: {
    access: 'rep',
    summary: 'Files of a contact, company or deal',
    query: fileSubject,
    reply: z.object({ files: z.array(storedFile) }),
  },
  getFile: {
    access: 'rep',
    summary: 'The bytes of a file',
    params: byId.extend({ id: fileId }),
    query: z.object({ preview: z.enum(['yes']).optional() }),
    reply: nothing,
  },
  removeFile: { access: 'rep', summary: 'Take a file away', params: byId.extend({ id: fileId }), reply: ok },
  restoreFile: {
    access: 'rep',
    summary: 'Bring a file back',
    params: byId.extend({ id: fileId }),
    reply: ok,
  },
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
  listStandings: {
    access: 'rep',
    summary: 'Standings with due and all counts, for mine and unowned',
    reply: z.object({ standings: z.array(standingCount) }),
  },
  listCompanies: {
    access: 'rep',
    summary: 'Search companies',
    query: z.object({
      q: z.string().trim().max(100).default(''),
      limit: z.coerce.number().int().min(1).max(500).default(200),
    }),
    reply: companyPage,
  },
  getCompany: {
    access: 'rep',
    summary: 'One company with its people and deals',
    params: byId.extend({ id: companyId }),
    reply: z.object({
      company,
      /** Whoever belongs to it, mainly or beside another company. */
      people: z.array(contactRow),
      deals: dealList.shape.rows,
    }),
  },

  listJournal: {
    access: 'rep',
    summary: 'Journal of a contact, company or deal',
    query: listJournal,
    reply: journalPage,
  },
  log: { access: 'rep', summary: 'Log an act with outcome and next step', body: logEntry, reply: logged },
  writeNote: { access: 'rep', summary: 'Write a note', body: writeNote, reply: ok },
  undoLog: {
    access: 'rep',
    summary: 'Take back a log made a moment ago',
    params: byId.extend({ id: entryId }),
    reply: ok,
  },

  editEntry: {
    access: 'rep',
    summary: 'Change what an entry says; what it said before is kept',
    params: byId.extend({ id: entryId }),
    body: editEntry,
    reply: ok,
  },
  removeEntry: {
    access: 'rep',
    summary: 'Mark an entry as removed',
    params: byId.extend({ id: entryId }),
    body: removeEntry,
    reply: ok,
  },
  restoreEntry: {
    access: 'rep',
    summary: 'Bring a removed entry back',
    params: byId.extend({ id: entryId }),
    reply: ok,
  },
  entryHistory: {
    access: 'rep',
    summary: 'What an entry said before',
    params: byId.extend({ id: entryId }),
    reply: entryHistory,
  },
  writeComment: {
    access: 'rep',
    summary: 'Comment on an entry; @name tells a colleague',
    params: byId.extend({ id: entryId }),
    body: writeComment,
    reply: ok,
  },

  createTask: { access: 'rep', summary: 'Plan a next step', body: createTask, reply: task },
  listTasks: {
    access: 'rep',
    summary: 'Open tasks of a contact or deal',
    query: z.object({ contactId: contactId.optional(), dealId: dealId.optional() }),
    reply: z.object({ tasks: z.array(task) }),
  },
  taskTable: { access: 'rep', summary: 'Tasks, mine or the team’s', query: taskTable, reply: taskPage },
  changeTask: {
    access: 'rep',
    summary: 'Change an open task or hand it to somebody',
    params: byId.extend({ id: taskId }),
    body: changeTask,
    reply: task,
  },
  finishTask: {
    access: 'rep',
    summary: 'A task is done',
    params: byId.extend({ id: taskId }),
    body: overVersion,
    reply: task,
  },
  reopenTask: {
    access: 'rep',
    summary: 'Open a finished task again',
    params: byId.extend({ id: taskId }),
    body: overVersion,
    reply: task,
  },
  deferTask: {
    access: 'rep',
    summary: 'Move a task to a later day',
    params: byId.extend({ id: taskId }),
    body: deferTask,
    reply: task,
  },
  dropTask: {
    access: 'rep',
    summary: 'Drop a task with a reason',
    params: byId.extend({ id: taskId }),
    body: dropTask,
    reply: task,
  },

  uploadImport: {
    access: 'rep',
    summary: 'Judge a CSV or vCard file without writing',
    body: uploadImport,
    reply: importPreview,
  },
  getImport: { access: 'rep', summary: 'A judged file and its progress', params: byId, reply: importPreview },
  remapImport: {
    access: 'rep',
    summary: 'Correct the columns and judge again',
    params: byId,
    body: remapImport,
    reply: importPreview,
  },
  confirmImport: {
    access: 'rep',
    summary: 'Write what was judged',
    params: byId,
    body: confirmImport,
    reply: importPreview,
  },

  listCadences: {
    access: 'rep',
    summary: 'Cadences with their counts',
    reply: z.object({ cadences: z.array(cadenceSummary) }),
  },
  createCadence: { access: 'rep', summary: 'Make a cadence', body: createCadence, reply: cadenceSummary },
  planStart: {
    access: 'rep',
    summary: 'Planned moments before starting',
    params: byId,
    body: planStart,
    reply: startPlan,
  },
  startRuns: {
    access: 'rep',
    summary: 'Start people on a cadence',
    params: byId,
    body: startRuns,
    reply: startedRuns,
  },
  listRuns: {
    access: 'rep',
    summary: 'Runs of a contact',
    query: z.object({ contactId }),
    reply: z.object({ runs: z.array(runSummary) }),
  },
  changeRun: {
    access: 'rep',
    summary: 'Pause, resume, stop or skip a step of a run',
    params: byId.extend({ id: runId }),
    body: changeRun,
    reply: runSummary,
  },
  changeRuns: {
    access: 'rep',
    summary: 'Pause, resume, stop or skip for many runs',
    body: changeRuns,
    reply: changedRuns,
  },
  cadenceSchema: {
    access: 'rep',
    summary: 'JSON Schema of the file a cadence is exported to',
    reply: z.looseObject({}),
  },
  readCadenceFile: {
    access: 'rep',
    summary: 'What a file would make, without making it',
    body: cadenceFile,
    reply: readCadence,
  },
  cadenceToFile: {
    access: 'rep',
    summary: 'A cadence as a file',
    params: byId,
    reply: cadenceFile,
  },
  planExample: {
    access: 'rep',
    summary: 'The real dates of a definition for one contact',
    body: planExample,
    reply: examplePlan,
  },
  saveCadence: {
    access: 'rep',
    summary: 'Save a cadence as a new version, rename or retire it',
    params: byId,
    body: saveCadence,
    reply: cadenceSummary,
  },
  runTable: {
    access: 'rep',
    summary: 'Runs of a cadence by step',
    params: byId,
    query: runTable,
    reply: runPage,
  },
  cadenceResults: { access: 'rep', summary: 'What a cadence earns', params: byId, reply: cadenceResults },
  listVersions: {
    access: 'rep',
    summary: 'Versions of a cadence and the runs on them',
    params: byId,
    reply: z.object({ versions: z.array(cadenceVersion) }),
  },
  moveRuns: {
    access: 'rep',
    summary: 'Move runs to another version, or show what that would do',
    params: byId,
    body: moveRuns,
    reply: movedRuns,
  },

  listTemplates: {
    access: 'rep',
    summary: 'Templates, snippets and the facts they may ask for',
    reply: z.object({
      templates: z.array(template),
      snippets: z.array(snippet),
      facts: z.array(mergeFact),
      signature: z.string(),
    }),
  },
  createTemplate: { access: 'rep', summary: 'Make a template', body: createTemplate, reply: template },
  fillText: {
    access: 'rep',
    summary: 'Fill a text with the facts of a person',
    body: fillText,
    reply: filled,
  },
  changeTemplate: {
    access: 'rep',
    summary: 'Change or retire a template',
    params: byId.extend({ id: templateId }),
    body: changeTemplate,
    reply: template,
  },
  createSnippet: { access: 'rep', summary: 'Make a snippet', body: createSnippet, reply: snippet },
  changeSnippet: {
    access: 'rep',
    summary: 'Change a snippet',
    params: byId.extend({ id: snippetId }),
    body: changeSnippet,
    reply: snippet,
  },
  removeSnippet: {
    access: 'rep',
    summary: 'Remove a snippet',
    params: byId.extend({ id: snippetId }),
    reply: ok,
  },
  changeMySignature: {
    access: 'rep',
    summary: 'Change what stands below my mails',
    body: z.object({ signature: z.string().max(2000) }),
    reply: ok,
  },

  listMail: { access: 'rep', summary: 'Mail by box', query: listMail, reply: mailList },
  draftMail: { access: 'rep', summary: 'A mail to be written', query: draftMail, reply: mailDraft },
  sendMail: {
    access: 'rep',
    summary: 'Send a mail and log it with its next step',
    body: sendMail,
    reply: logged,
  },
  getMail: { access: 'rep', summary: 'One mail', params: byId.extend({ id: mailId }), reply: mail },
  fileMail: {
    access: 'rep',
    summary: 'File a mail with a person',
    params: byId.extend({ id: mailId }),
    body: fileMail,
    reply: mailRow,
  },
  letMailGo: {
    access: 'rep',
    summary: 'Let a mail go that belongs to nobody here',
    params: byId.extend({ id: mailId }),
    body: overMail,
    reply: mailRow,
  },
  unfileMail: {
    access: 'rep',
    summary: 'Take a mail back among those not filed',
    params: byId.extend({ id: mailId }),
    body: overMail,
    reply: mailRow,
  },
  decideHeld: {
    access: 'rep',
    summary: 'Decide a mail of which nobody knows whether it arrived',
    params: byId.extend({ id: mailId }),
    body: decideHeld,
    reply: mailRow,
  },
  mailSettings: { access: 'rep', summary: 'How mail goes out', reply: storedMailSettings },
  changeMailSettings: {
    access: 'admin',
    summary: 'Change how mail goes out',
    body: storedMailSettings,
    reply: storedMailSettings,
  },
  listStirrings: {
    access: 'rep',
    summary: 'Signs of life',
    query: listStirrings,
    reply: z.object({ rows: z.array(stirring), open: z.int() }),
  },
  fileStirring: {
    access: 'rep',
    summary: 'Say whose a call or text from an unknown number was',
    params: byId.extend({ id: stirringId }),
    body: fileStirring,
    reply: stirring,
  },
  handleStirring: {
    access: 'rep',
    summary: 'A sign of life was looked at, or is to be again',
    params: byId.extend({ id: stirringId }),
    body: handleStirring,
    reply: stirring,
  },

  dial: { access: 'rep', summary: 'Dial a number', body: dial, reply: phoneCall },
  getCall: {
    access: 'rep',
    summary: 'A call as the line tells it',
    params: byId.extend({ id: phoneCallId }),
    reply: phoneCall,
  },
  hangUp: {
    access: 'rep',
    summary: 'End a call',
    params: byId.extend({ id: phoneCallId }),
    reply: phoneCall,
  },
  sendText: {
    access: 'rep',
    summary: 'Send a text and log it with its next step',
    body: sendText,
    reply: logged,
  },
  listTexts: {
    access: 'rep',
    summary: 'Texts with a contact',
    query: listTexts,
    reply: z.object({ texts: z.array(textRow) }),
  },

  listDeals: { access: 'rep', summary: 'Open deals', query: listDeals, reply: dealList },
  listPipelines: {
    access: 'rep',
    summary: 'Pipelines and stages',
    reply: z.object({ pipelines: z.array(pipeline) }),
  },
  createDeal: { access: 'rep', summary: 'Make a deal with its next step', body: createDeal, reply: deal },
  getDeal: { access: 'rep', summary: 'One deal', params: byId.extend({ id: dealId }), reply: deal },
  changeDeal: {
    access: 'rep',
    summary: 'Change a deal',
    params: byId.extend({ id: dealId }),
    body: changeDeal,
    reply: deal,
  },
  moveDeal: {
    access: 'rep',
    summary: 'Put a deal into another stage or month',
    params: byId.extend({ id: dealId }),
    body: moveDeal,
    reply: deal,
  },
  reopenDeal: {
    access: 'rep',
    summary: 'Open a deal again that was won, lost or parked',
    params: byId.extend({ id: dealId }),
    body: reopenDeal,
    reply: deal,
  },
  closeDeal: {
    access: 'rep',
    summary: 'Win, lose or park a deal',
    params: byId.extend({ id: dealId }),
    body: closeDeal,
    reply: deal,
  },
  listAgreements: {
    access: 'rep',
    summary: 'Agreements by notice deadline',
    query: listAgreements,
    reply: agreementList,
  },
  createAgreement: {
    access: 'rep',
    summary: 'Give a customer an agreement',
    body: createAgreement,
    reply: agreementRow,
  },

  round: { access: 'rep', summary: 'The day’s computed queue', query: roundFilters, reply: round },
  walkItem: {
    access: 'rep',
    summary: 'One item of the walk with proposals',
    query: walkQuery,
    reply: walkItem,
  },
  placeRow: { access: 'rep', summary: 'Pin a row of today’s round', body: placeRow, reply: ok },
  moveRows: { access: 'rep', summary: 'Move rows below the cut line', body: moveRows, reply: movedRows },
  spine: {
    access: 'rep',
    summary: 'Hours, meetings and gaps of a day',
    query: z.object({ on: plainDate.optional(), owner: userId.optional() }),
    reply: spine,
  },
  createMeeting: {
    access: 'rep',
    summary: 'Put a meeting on my day',
    body: createMeeting,
    reply: spineBlock,
  },
  removeMeeting: {
    access: 'rep',
    summary: 'Take a meeting off my day',
    params: byId.extend({ id: meetingId }),
    reply: ok,
  },
} as const satisfies Record<EndpointName, RouteSpec>;

export type Routes = typeof routes;

type Part<Spec, Key extends string> = Spec extends Record<Key, z.ZodType> ? z.input<Spec[Key]> : undefined;

/** What a caller sends to a route: path parameters, query and body, each only where the route takes it. */
export type CallOf<Name extends EndpointName> = {
  params?: Part<Routes[Name], 'params'>;
  query?: Part<Routes[Name], 'query'>;
  body?: Part<Routes[Name], 'body'>;
};
export type ReplyOf<Name extends EndpointName> = z.output<Routes[Name]['reply']>;
