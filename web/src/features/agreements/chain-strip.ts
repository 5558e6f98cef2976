import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { AgreementDetail } from '@kettle/contract';
import { addDays, daysBetween, sayMonth } from '@kettle/core/time';

const high = 56;

/**
 * The terms of an agreement along time, as steps as high as what each brings in a year: what is over is filled, the running one is outlined
 * strongly, what is agreed on is dashed; today is an upright line, the last day for notice a notch.
 */
@Component({
  selector: 'kettle-chain-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg viewBox="0 0 1000 76" preserveAspectRatio="none" role="img" [attr.aria-label]="words()">
      @for (step of steps(); track step.x) {
        <rect
          [class]="step.kind"
          [attr.x]="step.x"
          [attr.y]="step.y"
          [attr.width]="step.width"
          [attr.height]="step.height"
        />
      }
      <line class="ground" x1="0" x2="1000" y1="66" y2="66" />
      @if (notice(); as at) {
        <line class="notice" [attr.x1]="at" [attr.x2]="at" y1="58" y2="74" />
      }
      <line class="today" [attr.x1]="place(today())" [attr.x2]="place(today())" y1="0" y2="76" />
    </svg>
    <ol aria-hidden="true">
      @for (mark of marks(); track mark.at) {
        <li [style.inset-inline-start.%]="mark.at" [class.last]="mark.at > 85">{{ mark.name }}</li>
      }
    </ol>
  `,
  styles: `
    svg {
      display: block;
      inline-size: 100%;
      block-size: 76px;
    }
    rect {
      vector-effect: non-scaling-stroke;
      fill: var(--band);
      stroke: var(--passive);
    }
    .running {
      fill: var(--link-wash);
      stroke: var(--link);
      stroke-width: 2;
    }
    .agreed {
      fill: none;
      stroke: var(--link);
      stroke-dasharray: 5 3;
    }
    line {
      vector-effect: non-scaling-stroke;
    }
    .ground {
      stroke: var(--dashed);
    }
    .today {
      stroke: var(--text);
    }
    .notice {
      stroke: var(--accent);
      stroke-width: 3;
    }
    ol {
      position: relative;
      block-size: 18px;
      font-size: var(--text-small);
      color: var(--text-soft);
    }
    li {
      position: absolute;
      white-space: nowrap;
    }
    .last {
      transform: translateX(-100%);
    }
  `,
})
export class ChainStrip {
  readonly detail = input.required<AgreementDetail>();
  readonly today = input.required<string>();

  private readonly span = computed(() => {
    const { terms, agreement } = this.detail();
    const from = terms[0]!.startsOn;
    const last = agreement.leavesOn ?? terms.at(-1)!.endsOn;
    const end = last > this.today() ? last : this.today();
    const room = Math.ceil(daysBetween(from, end) / 20) + 1;
    return { from, days: Math.max(1, daysBetween(from, addDays(end, room))) };
  });

  protected place(day: string): number {
    const { from, days } = this.span();
    return Math.round((1000 * Math.max(0, daysBetween(from, day))) / days);
  }

  protected readonly steps = computed(() => {
    const { terms, changes, agreement } = this.detail();
    const cuts = terms.flatMap((term) => {
      const own = changes.filter(({ on }) => on >= term.startsOn && on < term.endsOn);
      const days = [term.startsOn, ...own.map(({ on }) => on)];
      return days.map((from, at) => ({
        from,
        to: days[at + 1] ?? term.endsOn,
        term,
        yearly: at === 0 ? term.yearlyMinor : scaled(term, own[at - 1]!.valueMinor),
      }));
    });
    const most = Math.max(1, ...cuts.map(({ yearly }) => yearly));
    const leaves = agreement.leavesOn ?? '9999-12-31';
    return cuts
      .filter(({ from }) => from < leaves)
      .map(({ from, to, term, yearly }) => {
        const end = to < leaves ? to : leaves;
        const height = Math.max(3, Math.round((high * yearly) / most));
        const isRunning = term.number === agreement.termNumber;
        const kind = isRunning ? 'running' : term.number > agreement.termNumber ? 'agreed' : 'over';
        return {
          kind,
          x: this.place(from),
          width: this.place(end) - this.place(from),
          y: 66 - height,
          height,
        };
      });
  });

  protected readonly notice = computed(() => {
    const { agreement } = this.detail();
    return agreement.decision === 'open' && agreement.state !== 'over'
      ? this.place(agreement.noticeDeadlineOn)
      : null;
  });

  /** Each beginning, as far as their words do not run into each other. */
  protected readonly marks = computed(() => {
    const { terms } = this.detail();
    const days = [...terms.map(({ startsOn }) => startsOn), terms.at(-1)!.endsOn];
    const marks = days.map((day) => ({
      at: this.place(day) / 10,
      name: `${sayMonth(day, 'short')} ${day.slice(0, 4)}`,
    }));
    let last = -20;
    return marks.filter(({ at }) => {
      if (at - last < 12) return false;
      last = at;
      return true;
    });
  });

  protected readonly words = computed(() => {
    const { terms, agreement } = this.detail();
    return $localize`${terms.length}:terms: terms since ${terms[0]!.startsOn}:from:; the running one is number ${agreement.termNumber}:number: and ends on ${agreement.endsOn}:to:`;
  });
}

type Term = AgreementDetail['terms'][number];
const scaled = (term: Term, valueMinor: number) =>
  term.valueMinor === 0 ? valueMinor : Math.round((valueMinor * term.yearlyMinor) / term.valueMinor);
