import { ChartView } from '../../kit/chart';
import { tableParts } from '../../kit/table';
import { CountPipe } from '../../kit/say.pipes';
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { CadenceResults } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { sayIsoWeekday, sayMinute } from '@kettle/core/time';
import { percent, ShareBar } from './share-bar';

const hoursShown = 4;
const waitDays = [3, 7, 14, 30];
const mostDaysDrawn = 60;
/** Fewer tries in an hour are no ground for naming it. */
const fewestInHour = 10;

type StepResult = CadenceResults['steps'][number];

/** What a cadence earns: by step and variant with intervals, what is too thin to say, and when and after how many tries. */
@Component({
  selector: 'kettle-results-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChartView, tableParts, CountPipe, ShareBar],
  templateUrl: './results-panel.html',
  styleUrl: './results-panel.scss',
})
export class ResultsPanel {
  protected readonly texts = {
    runs: $localize`run|runs`,
    days: $localize`day|days`,
  };

  readonly results = input.required<CadenceResults>();

  protected readonly labels = channelLabel;
  protected readonly percent = percent;
  protected readonly most = computed(() =>
    Math.max(
      0.1,
      ...this.results()
        .steps.flatMap(({ result, variants }) => [result, ...variants.map((variant) => variant.result)])
        .filter(({ answered }) => !this.isThin(answered.whole))
        .map(({ answered }) => answered.high),
    ),
  );
  protected readonly hours = computed(() =>
    this.results()
      .hours.filter(({ tried }) => tried >= fewestInHour)
      .slice(0, hoursShown)
      .map(({ channel, weekday, hour, tried, rate }) => ({
        words: `${channelLabel[channel].toLowerCase()} ${sayIsoWeekday(weekday, 'short')} ${sayMinute(hour * 60)}`,
        tried,
        rate,
      })),
  );
  protected readonly tries = computed(() =>
    this.results().tries.map((share, index) => ({ share, n: index + 1 })),
  );

  /** The chance that the first answer has come by then, those still waiting counted as such (Kaplan and Meier). */
  protected readonly waits = computed(() => {
    const { silence } = this.results();
    if (silence.length === 0) return [];
    return waitDays.map((days) => ({
      days,
      rate: 1 - (silence.findLast(({ day }) => day <= days)?.survival ?? 1),
    }));
  });

  /** The same for every day until the last answer, for its picture. */
  protected readonly byDay = computed(() => {
    const { silence } = this.results();
    const last = Math.min(mostDaysDrawn, Math.ceil(silence.at(-1)?.day ?? 0));
    const days = Array.from({ length: last + 1 }, (_, day) => day);
    const values = days.map((day) => 1 - (silence.findLast((each) => each.day <= day)?.survival ?? 1));
    return { days: days.map(String), series: [{ name: $localize`answered`, values }] };
  });

  protected isThin(cases: number): boolean {
    return cases < this.results().leastCases;
  }

  protected missing(cases: number): string {
    return $localize`${this.results().leastCases - cases} more before a verdict`;
  }

  protected verdictOf({ verdict, variants }: StepResult): string {
    const [first, second] = variants.map(({ name }) => `“${name}”`);
    if (verdict === null || first === undefined || second === undefined) return '';
    if (verdict.kind === 'thin')
      return $localize`${first}:first: against ${second}:second:: ${verdict.more}:more: more cases before a verdict.`;
    const points = (value: number) => `${value > 0 ? '+' : ''}${Math.round(value * 100)}`;
    const p = `p = ${verdict.p.toFixed(2)}`;
    if (verdict.kind === 'clear') {
      const [least, most] = [verdict.low, verdict.high].map(Math.abs).sort((a, b) => a - b);
      const better = verdict.better === 'first' ? first : second;
      return $localize`${better}:better: earns more answers, by ${Math.round(least! * 100)}:round: to ${Math.round(most! * 100)}:round2: points (${p}:p:).`;
    }
    const range = $localize`between ${points(verdict.low)}:low: and ${points(verdict.high)}:high: points, ${p}:p:`;
    return $localize`${first}:first: against ${second}:second:: ${range}:range:. Keep both. ${settled(verdict.more)}:more:`;
  }
}

/** More cases than this nobody waits for. */
const mostWorthWaiting = 2000;

function settled(more: number | null): string {
  if (more === null) return '';
  return more > mostWorthWaiting
    ? $localize`A difference this small would take more than ${mostWorthWaiting} cases to show.`
    : $localize`About ${more} more would settle it.`;
}
