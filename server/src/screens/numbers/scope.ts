import type { AskReport, PipelineId, PlainDate, UserId } from '@kettle/contract';
import {
  hasPeriod,
  hasPipeline,
  reportRows,
  type ReportKind,
  type ReportRow,
} from '@kettle/contract/numbers/kinds';
import { periodBefore, periodOn, type Days, type Period } from '@kettle/core/numbers';
import { addDays, localMoment } from '@kettle/core/time';
import type { Queryable, SqlParameters } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { readTeamOf, reachParameters, withinReach, type Owned } from '../../records/rights/index';
import { todayOf, type SignedIn } from '../../records/users/index';

/** What a report is asked of, resolved: whose, of which days, and what its rows are. */
export interface Scope {
  readonly kind: ReportKind;
  readonly who: SignedIn;
  /** Whose records; null for everything that `who` may read. */
  readonly owners: readonly UserId[] | null;
  /** They are a team, with what was set for it as a whole. */
  readonly isTeam: boolean;
  readonly pipelineId: PipelineId | null;
  readonly by: ReportRow;
  readonly today: PlainDate;
  readonly now: string;
  readonly currency: string;
  readonly period: Period;
  /** In words: whose, and of which pipeline. */
  readonly words: string;
}

/** Days that facts are read of. */
export interface Span extends Days {
  /** The period itself, or the one before it. */
  readonly isNow: boolean;
}

/** The period as far as it has come, and the one before it. */
export const spansOf = ({ period }: Scope): { readonly now: Span; readonly before: Span } => ({
  now: { from: period.from, to: period.until, isNow: true },
  before: { ...periodBefore(period), isNow: false },
});

/**
 * What is asked, for somebody. `owners` are those of whoever set it up, where somebody else reads it.
 * @throws Problem `not-allowed` for a person outside one's team
 */
export async function scopeOf(
  services: Services,
  who: SignedIn,
  asked: AskReport,
  owners?: readonly UserId[] | null,
): Promise<Scope> {
  const { database: db } = services;
  const today = todayOf(services, who);
  const [ids, { organisation }, pipeline] = await Promise.all([
    owners === undefined ? ownersOf(db, who, asked.whose) : owners,
    services.settings.read(db),
    asked.pipeline === undefined || !hasPipeline(asked.kind) ? null : readPipelineName(db, asked.pipeline),
  ]);
  const { kind } = asked;
  return {
    ...{ kind, who, owners: ids, today, now: services.clock.now(), currency: organisation.currency },
    pipelineId: pipeline === null ? null : asked.pipeline!,
    isTeam: asked.whose === 'team',
    by: asked.by ?? reportRows[kind][0],
    period: periodOn(hasPeriod(kind) ? asked : { period: 'this-month' }, today),
    words: [await whoseWords(db, asked.whose, ids), pipeline].filter((part) => part !== null).join(' · '),
  };
}

/** Whose records are meant: null for all. @throws Problem `not-allowed` */
export async function ownersOf(
  db: Queryable,
  who: SignedIn,
  whose: AskReport['whose'],
): Promise<UserId[] | null> {
  if (whose === 'all') return null;
  if (whose === 'mine' || whose === who.id) return [who.id];
  const team = (await readTeamOf(db, who)).map(({ id }) => id);
  if (whose === 'team') return team;
  if (!team.includes(whose)) throw new Problem('not-allowed');
  return [whose];
}

/** Everybody whose records somebody may read, with themselves. */
export async function readOwners(db: Queryable, { id, reach }: SignedIn): Promise<UserId[]> {
  if (reach.reads !== 'everybody') return [...new Set([id, ...(reach.reads as ReadonlySet<UserId>)])];
  const users = await db.rows<Row<'app_user', 'id'>>('SELECT id FROM app_user ORDER BY id');
  return users.map((user) => idOf(user.id));
}

async function whoseWords(
  db: Queryable,
  whose: AskReport['whose'],
  owners: readonly UserId[] | null,
): Promise<string> {
  if (whose === 'all' || owners === null) return $localize`everybody’s`;
  if (whose === 'team') return $localize`the team’s`;
  const [row] = await db.rows<Row<'app_user', 'name'>>('SELECT name FROM app_user WHERE id = :id', {
    id: bytesOf(owners[0] ?? null),
  });
  return row?.name ?? '';
}

async function readPipelineName(db: Queryable, id: PipelineId): Promise<string> {
  const [row] = await db.rows<Row<'pipeline', 'name'>>('SELECT name FROM pipeline WHERE id = :id', {
    id: bytesOf(id),
  });
  if (row === undefined) throw new Problem('not-found');
  return row.name;
}

/** The parameters that facts may name: the days, their ends as instants on the reader's clock, owners, pipeline, and the reader's reach. */
export const parametersOf = (scope: Scope, { from, to }: Days): SqlParameters => ({
  ...reachParameters(scope.who),
  ...{ from, to, today: scope.today, now: sqlInstant(scope.now) },
  start: sqlInstant(localMoment(from, 0, scope.who.zone)),
  end: sqlInstant(localMoment(addDays(to, 1), 0, scope.who.zone)),
  owners: (scope.owners ?? []).map((id) => bytesOf(id)),
  pipeline: bytesOf(scope.pipelineId),
});

/** That a record is one of those asked about: within the reader's reach, and of these owners. */
export function isAsked({ who, owners }: Scope, kind: Owned, alias: string, owner = 'owner_id'): string {
  const owned = owners === null ? 'TRUE' : owners.length === 0 ? 'FALSE' : `${alias}.${owner} IN (:owners)`;
  return `${withinReach(who, kind, alias)} AND ${owned}`;
}

/** That a stage is of the pipeline asked about. */
export const isInPipeline = ({ pipelineId }: Scope, stage: string): string =>
  pipelineId === null
    ? 'TRUE'
    : `${stage} IN (SELECT pst.id FROM stage pst WHERE pst.pipeline_id = :pipeline)`;

/** An id as the key of a row. */
export const idKey = (column: string): string => `LOWER(HEX(${column}))`;

/** The key of the row of what has none: no source, no reason. An empty one would be no row at all in an address. */
export const noKey = '∅';

/** The key of facts' row, in SQL. */
export const rowKey = `COALESCE(NULLIF(f.row_key, ''), '${noKey}')`;
