import * as z from 'zod';

/** What an id is of, by its schema. */
const kinds = new WeakMap<z.core.$ZodType, string>();

/** The kind of record that a schema is the id of: `'contact'`; undefined for every other schema. */
export const idKindOf = (schema: z.core.$ZodType): string | undefined => kinds.get(schema);

/** A record's id: UUIDv7, made by the application, lower case. The brand keeps one kind of id from passing for another. */
function idOf<Name extends string>(name: Name): z.ZodType<string & z.$brand<Name>, string> {
  const schema = z
    .uuid($localize`is not the id of a ${name}:name:`)
    .transform((value) => value.toLowerCase())
    .pipe(z.string());
  kinds.set(schema, name);
  return schema as never;
}

export const userId = idOf('user');

export const companyId = idOf('company');

export const contactId = idOf('contact');

export const standingId = idOf('standing');

export const dealId = idOf('deal');

export const stageId = idOf('stage');

export const pipelineId = idOf('pipeline');

export const agreementId = idOf('agreement');

export const taskId = idOf('task');

export const entryId = idOf('entry');

export const cadenceId = idOf('cadence');

export const cadenceVersionId = idOf('cadenceVersion');

export const runId = idOf('run');

export const importId = idOf('import');

export const appointmentId = idOf('appointment');

export const outsideCalendarId = idOf('outside calendar');

export const apiKeyId = idOf('API key');

export const hookId = idOf('web hook');

export const ruleId = idOf('house rule');

export const ruleFiringId = idOf('firing');

export const siteId = idOf('site');

export const customFieldId = idOf('customField');

export const commentId = idOf('comment');

export const talkId = idOf('talk');

export const notificationId = idOf('notification');

export const fileId = idOf('file');

export const viewId = idOf('view');
export const reportMailingId = idOf('reportMailing');
export const quoteId = idOf('quote');
export const invoiceId = idOf('invoice');

export const bulkId = idOf('bulk');

export const mergeId = idOf('merge');
export const changeSetId = idOf('change');

export const templateId = idOf('template');

export const snippetId = idOf('snippet');

export const wordingId = idOf('wording');

export const mailId = idOf('mail');

export const textId = idOf('text');

export const phoneCallId = idOf('phoneCall');

export const stirringId = idOf('stirring');

export const leadId = idOf('lead');

export const formId = idOf('form');

export const productId = idOf('product');

export type UserId = z.infer<typeof userId>;

export type CompanyId = z.infer<typeof companyId>;

export type ContactId = z.infer<typeof contactId>;

export type StandingId = z.infer<typeof standingId>;

export type DealId = z.infer<typeof dealId>;

export type StageId = z.infer<typeof stageId>;

export type PipelineId = z.infer<typeof pipelineId>;

export type AgreementId = z.infer<typeof agreementId>;

export type TaskId = z.infer<typeof taskId>;

export type EntryId = z.infer<typeof entryId>;

export type CadenceId = z.infer<typeof cadenceId>;

export type CadenceVersionId = z.infer<typeof cadenceVersionId>;

export type RunId = z.infer<typeof runId>;

export type ImportId = z.infer<typeof importId>;

export type AppointmentId = z.infer<typeof appointmentId>;
export type OutsideCalendarId = z.infer<typeof outsideCalendarId>;

export type SiteId = z.infer<typeof siteId>;

export type CustomFieldId = z.infer<typeof customFieldId>;

export type CommentId = z.infer<typeof commentId>;
export type TalkId = z.infer<typeof talkId>;

export type NotificationId = z.infer<typeof notificationId>;

export type FileId = z.infer<typeof fileId>;

export type ViewId = z.infer<typeof viewId>;
export type ReportMailingId = z.infer<typeof reportMailingId>;
export type QuoteId = z.infer<typeof quoteId>;
export type InvoiceId = z.infer<typeof invoiceId>;

export type BulkId = z.infer<typeof bulkId>;

export type MergeId = z.infer<typeof mergeId>;

export type ChangeSetId = z.infer<typeof changeSetId>;

export type TemplateId = z.infer<typeof templateId>;

export type SnippetId = z.infer<typeof snippetId>;
export type WordingId = z.infer<typeof wordingId>;

export type MailId = z.infer<typeof mailId>;

export type TextId = z.infer<typeof textId>;

export type PhoneCallId = z.infer<typeof phoneCallId>;

export type ApiKeyId = z.infer<typeof apiKeyId>;

export type HookId = z.infer<typeof hookId>;

export type RuleId = z.infer<typeof ruleId>;

export type RuleFiringId = z.infer<typeof ruleFiringId>;

export type StirringId = z.infer<typeof stirringId>;

export type LeadId = z.infer<typeof leadId>;

export type FormId = z.infer<typeof formId>;

export type ProductId = z.infer<typeof productId>;
