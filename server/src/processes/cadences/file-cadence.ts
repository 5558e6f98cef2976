import { cadenceDefinition, type CadenceFile, type ReplyOf, type TemplateId } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { invalidRequest } from '../../platform/http/errors';
import { listTemplates } from '../templates/index';
import { summaryOf } from './save-cadence';

/** A cadence as a file that another installation can read: templates go by their names. */
export async function cadenceToFile(db: Queryable, cadenceId: string): Promise<CadenceFile> {
  const { name, definition } = await summaryOf(db, cadenceId);
  const names = new Map<string, string>(
    (await listTemplates(db)).map((template) => [template.id, template.name]),
  );
  return {
    format: 'cadence',
    version: 1,
    name,
    steps: definition.steps.map(({ templateIds, ...step }) => ({
      ...step,
      templates: templateIds.flatMap((id) => names.get(id) ?? []),
    })),
    answeredStep: definition.answeredStep,
  };
}

/**
 * What a file would make. A template that is not here is left out and named; a step that could then no longer go by itself
 * is done by hand. @throws Problem `invalid-request` naming the steps that are not right
 */
export async function readCadenceFile(db: Queryable, file: CadenceFile): Promise<ReplyOf<'readCadenceFile'>> {
  const known = await listTemplates(db);
  const unknown = new Set<string>();
  const idOf = (name: string, channel: string): TemplateId[] => {
    const found = known.find((each) => each.name === name && each.channel === channel && !each.isRetired);
    if (!found) unknown.add(name);
    return found ? [found.id] : [];
  };
  const steps = file.steps.map(({ templates, ...step }) => {
    const templateIds = templates.flatMap((name) => idOf(name, step.channel));
    const isLeftAlone = templates.length > 0 && templateIds.length === 0;
    return { ...step, templateIds, mode: isLeftAlone ? ('by-hand' as const) : step.mode };
  });
  const definition = cadenceDefinition.safeParse({ steps, answeredStep: file.answeredStep });
  if (!definition.success) throw invalidRequest(definition.error, 'body');
  return { name: file.name, definition: definition.data, unknownTemplates: [...unknown] };
}
