import type { CadenceResults, TemplateId } from '@kettle/contract';
import {
  answersByTry,
  bestHours,
  compareVariants,
  leastCases,
  resultsBy,
  type RunTries,
  type StepFact,
} from '@kettle/core/cadences';
import { kaplanMeier, quantileTime, shareOf, type Watched } from '@kettle/core/stats';
import { type HourTally, hourOfWeek } from '@kettle/core/touch';
import type { Queryable } from '../../platform/database/database';
import { instantOf, instantOrNull, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { readCurrentVersion } from './cadence-rows';
import type { Row } from '../../platform/database/schema.generated';

interface StepRow
  extends
    Row<'run_step', 'run_id' | 'step' | 'channel' | 'template_id' | 'acted_at' | 'answered_at'>,
    Row<'run', 'started_at'>,
    Row<'contact', 'zone'> {
  is_active: number;
}

/** Enough for any verdict; beyond it the latest count. */
const mostRows = 60_000;
const dayMillis = 86_400_000;
const empty = { reached: 0, acted: shareOf(0, 0), answered: shareOf(0, 0) };

/** What the current version of a cadence has earned, counted from what became of each step. */
export async function readResults(db: Queryable, cadenceId: string, now: string): Promise<CadenceResults> {
  const version = await readCurrentVersion(db, cadenceId);
  const rows = await db.rows<StepRow>(
    `SELECT s.run_id, s.step, s.channel, s.template_id, s.acted_at, s.answered_at, r.started_at,
            r.status IN ('running', 'paused') AS is_active, c.zone
       FROM run r JOIN run_step s ON s.run_id = r.id JOIN contact c ON c.id = r.contact_id
      WHERE r.cadence_version_id = :version ORDER BY r.started_at DESC, s.run_id, s.step LIMIT ${mostRows}`,
    { version: bytesOf(version.id) },
  );
  const facts = rows.map((row): StepFact => ({
    step: row.step,
    channel: row.channel,
    variant: idOrNull(row.template_id),
    acted: row.acted_at !== null,
    answered: row.answered_at !== null,
  }));
  const runs = groupByRun(rows);
  const names = await templateNames(db);
  const byStep = resultsBy(facts, ({ step }) => step);
  const silence = kaplanMeier(runs.map((run) => watchedOf(run, now)));
  return {
    runs: runs.length,
    answered: shareOf(runs.filter((run) => run.some((row) => row.answered_at !== null)).length, runs.length),
    steps: version.definition.steps.map((step, index) => {
      const variants = variantsOf(facts, index, step.templateIds, names);
      const [first, second] = variants;
      return {
        step: index,
        channel: step.channel,
        purpose: step.purpose,
        result: byStep.get(index) ?? empty,
        variants,
        verdict: first && second ? compareVariants(first.result.answered, second.result.answered) : null,
      };
    }),
    channels: [...resultsBy(facts, ({ channel }) => channel)].map(([channel, result]) => ({
      channel,
      result,
    })),
    silence: silence.map(({ time, survival, atRisk }) => ({ day: time, survival, atRisk })),
    medianDays: quantileTime(silence, 0.5),
    exits: await readExits(db, version.id),
    tries: answersByTry(runs.map(triesOf)),
    hours: bestHours(hourTallies(rows)),
    leastCases,
  };
}

function groupByRun(rows: readonly StepRow[]): StepRow[][] {
  const runs = new Map<string, StepRow[]>();
  for (const row of rows) {
    const id = idOf<string>(row.run_id);
    const run = runs.get(id);
    if (run) run.push(row);
    else runs.set(id, [row]);
  }
  return [...runs.values()];
}

/** Longer than any run: who was never answered is waiting at every time that is asked about. */
const forGood = 36_500;

/**
 * Days to the first answer. A run that ended without one was not answered, as in every other figure of the page; one that goes on is
 * watched until now.
 */
function watchedOf(run: readonly StepRow[], now: string): Watched {
  const start = Date.parse(instantOf(run[0]!.started_at));
  const answers = run.flatMap(({ answered_at }) =>
    answered_at === null ? [] : [Date.parse(instantOf(answered_at))],
  );
  const days = (at: number) => Math.max(0, Math.round(((at - start) / dayMillis) * 10) / 10);
  if (answers.length > 0) return { time: days(Math.min(...answers)), happened: true };
  return { time: run[0]!.is_active === 1 ? days(Date.parse(now)) : forGood, happened: false };
}

function triesOf(run: readonly StepRow[]): RunTries {
  const acted = run.filter((row) => row.acted_at !== null).sort((a, b) => a.step - b.step);
  const answered = acted.findIndex((row) => row.answered_at !== null);
  return { tries: acted.length, answeredAfter: answered < 0 ? null : answered + 1 };
}

/** The variants of a step in the order in which its definition names them, also those nobody has come to yet. */
function variantsOf(
  facts: readonly StepFact[],
  step: number,
  templateIds: readonly TemplateId[],
  names: ReadonlyMap<string, string>,
) {
  const used = facts.filter((fact) => fact.step === step && fact.variant !== null);
  const results = resultsBy(used, ({ variant }) => variant!);
  return templateIds.map((templateId) => ({
    templateId,
    name: names.get(templateId) ?? $localize`a template that is gone`,
    result: results.get(templateId) ?? empty,
  }));
}

function hourTallies(rows: readonly StepRow[]): HourTally[] {
  const tallies = new Map<string, HourTally & { tried: number; answered: number }>();
  for (const row of rows) {
    const at = instantOrNull(row.acted_at);
    if (at === null) continue;
    const { weekday, hour } = hourOfWeek(at, row.zone);
    const key = `${row.channel} ${weekday} ${hour}`;
    const tally = tallies.get(key) ?? { channel: row.channel, weekday, hour, tried: 0, answered: 0 };
    tallies.set(key, {
      ...tally,
      tried: tally.tried + 1,
      answered: tally.answered + (row.answered_at === null ? 0 : 1),
    });
  }
  return [...tallies.values()];
}

async function templateNames(db: Queryable): Promise<Map<string, string>> {
  const rows = await db.rows<Row<'template', 'id' | 'name'>>('SELECT id, name FROM template ORDER BY id');
  return new Map(rows.map((row) => [idOf<string>(row.id), row.name]));
}

async function readExits(db: Queryable, versionId: string): Promise<CadenceResults['exits']> {
  const rows = await db.rows<Row<'run', 'step'> & { exit_reason: string; n: string }>(
    `SELECT exit_reason, step, COUNT(*) AS n FROM run
      WHERE cadence_version_id = :version AND exit_reason IS NOT NULL
      GROUP BY exit_reason, step ORDER BY n DESC, exit_reason, step LIMIT 40`,
    { version: bytesOf(versionId) },
  );
  return rows.map((row) => ({ reason: row.exit_reason, step: row.step, runs: wholeNumber(row.n) }));
}
