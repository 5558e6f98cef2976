import type { CadenceId, SnippetId, TemplateId, Wording, WordingId } from '@kettle/contract';
import { isAtLeast } from '@kettle/core/rights';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import type { PersonWork } from '../../platform/work/work';
import type { SignedIn } from '../users/index';

/** Whether somebody's changes of what goes out by itself hold at once. @throws Problem `needs-release` */
export async function assertMayRelease({ database, settings }: Services, who: SignedIn): Promise<void> {
  const { rights } = await settings.read(database);
  if (!isAtLeast(who.role, rights.releases)) throw new Problem('needs-release');
}

export interface Recorded {
  readonly act: Wording['act'];
  readonly templateId?: TemplateId;
  readonly snippetId?: SnippetId;
  readonly cadenceId?: CadenceId;
  readonly name: string;
  /** Every field as it is from now on. */
  readonly kept: object;
  /** The draft that is released by it; without one whoever changed it released it too. */
  readonly draftId?: WordingId | undefined;
}

/** Keeps how a text or cadence is from now on in its history. */
export async function recordWording(w: PersonWork, recorded: Recorded): Promise<void> {
  const { act, templateId, snippetId, cadenceId, name, kept, draftId } = recorded;
  const row = {
    id: bytesOf(draftId ?? newId<WordingId>()),
    template: bytesOf(templateId),
    snippet: bytesOf(snippetId),
    cadence: bytesOf(cadenceId),
    name,
    asked: JSON.stringify(kept),
    who: bytesOf(w.who.id),
    now: sqlInstant(w.now),
  };
  if (draftId === undefined) {
    await w.change(
      `INSERT INTO wording (id, act, template_id, snippet_id, cadence_id, name, asked, author_id, at, state, decided_by, decided_at)
       VALUES (:id, :act, :template, :snippet, :cadence, :name, :asked, :who, :now, 'released', :who, :now)`,
      { ...row, act },
    );
    return;
  }
  await w.change(
    `UPDATE wording SET template_id = :template, snippet_id = :snippet, cadence_id = :cadence, name = :name, asked = :asked,
            state = 'released', decided_by = :who, decided_at = :now, version = version + 1
      WHERE id = :id`,
    row,
  );
}
