import type { ImportKind, UserId } from '@kettle/contract';
import { channelKinds } from '@kettle/contract/base/channels';
import { columnsOf, type ColumnChoice, type ColumnChoices, type ImportColumn } from '@kettle/core/imports';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { idOf } from '../../platform/ids';
import { readCustomFields } from '../../records/fields/index';
import { readPipelines } from '../../records/pipelines/index';

export interface Choices extends ColumnChoices {
  readonly ownerIds: ReadonlyMap<string, UserId>;
  /** Stages by `pipeline: stage`, in their order. */
  readonly stageIds: ReadonlyMap<string, string>;
}

/** What a file can name that is here: colleagues, stages, fields that an admin defined. */
export async function readChoices(db: Queryable): Promise<Choices> {
  const people = await db.rows<Row<'app_user', 'id' | 'name'>>(
    'SELECT id, name FROM app_user WHERE deactivated_at IS NULL ORDER BY name, id',
  );
  const stages = (await readPipelines(db)).flatMap((pipeline) =>
    pipeline.stages.map(({ id, name }) => ({ id, name, value: `${pipeline.name}: ${name}` })),
  );
  return {
    owners: people.map(({ name }) => name),
    ownerIds: new Map(people.map((row) => [row.name, idOf<UserId>(row.id)])),
    stages: stages.map(({ value, name }, at): ColumnChoice => {
      const isFirst = stages.findIndex((each) => each.name === name) === at;
      return { value, names: isFirst ? [name] : [] };
    }),
    stageIds: new Map(stages.map(({ value, id }) => [value, id])),
    channels: Object.entries(channelKinds).map(([value, { label }]) => ({ value, names: [label] })),
    custom: await readCustomFields(db, null),
  };
}

/** What the columns of a file can hold; people's are the page's own. */
export const columnsFor = (kind: ImportKind, choices: Choices): readonly ImportColumn[] =>
  kind === 'people' ? [] : columnsOf(kind, choices);
