import type { AskedWording, WordingId } from '@kettle/contract';
import type { PersonWork } from '../../platform/work/work';
import { createCadence, saveCadence } from '../cadences/index';
import { changeSnippet, changeTemplate, createSnippet, createTemplate } from '../templates/index';

/** Does what a wording asks for, as whoever is at work. @throws Problem of the act */
export async function carryOut(w: PersonWork, asked: AskedWording, draftId?: WordingId): Promise<void> {
  switch (asked.act) {
    case 'createTemplate':
      await createTemplate(w, asked.body, draftId);
      return;
    case 'changeTemplate':
      return changeTemplate(w, asked.templateId, asked.body, draftId);
    case 'createSnippet':
      await createSnippet(w, asked.body, draftId);
      return;
    case 'changeSnippet':
      return changeSnippet(w, asked.snippetId, asked.body, draftId);
    case 'createCadence':
      await createCadence(w, asked.body, draftId);
      return;
    case 'saveCadence':
      return saveCadence(w, asked.cadenceId, asked.body, draftId);
  }
}
