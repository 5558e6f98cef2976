import * as z from 'zod';
import { snippetId, templateId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import {
  changeSnippet,
  changeTemplate,
  createSnippet,
  createTemplate,
  fillText,
  filled,
  mergeFact,
  snippet,
  template,
} from './schemas';

export const templatesRoutes = {
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
    refersTo: ['body'],
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
} as const satisfies Record<string, RouteSpec>;
