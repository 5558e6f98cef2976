import { sayPercent } from '@kettle/core/locale';
import { computed, inject, Injectable } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { CloseReasons, DealFact, Pipeline, Product, Stage } from '@kettle/contract';
import { dealFactLabel } from '@kettle/contract/labels';
import { Api } from '../../api/api';
import { reading, wake } from '../../api/reading';
import { ChangeStream } from '../../services/change-stream';
import { PeopleWords } from '../fields/index';

/** @example 'Offer · 50 %' */
export const stageWords = ({ name, winProbability }: Stage): string =>
  `${name} · ${sayPercent(winProbability)}`;

/** What deals are spoken of in: pipelines and stages, products, reasons. Read once and kept in step. */
@Injectable({ providedIn: 'root' })
export class DealWords {
  private readonly api = inject(Api);
  private readonly people = inject(PeopleWords);
  private readonly pipelineRead = reading((_: null) => this.api.call('listPipelines'));
  private readonly productRead = reading((_: null) => this.api.call('listProducts'));
  private readonly reasonRead = reading((_: null) => this.api.call('closeReasons'));

  readonly pipelines = computed((): readonly Pipeline[] => this.pipelineRead.value()?.pipelines ?? []);
  readonly stages = computed((): readonly Stage[] => this.pipelines().flatMap(({ stages }) => stages));
  readonly products = computed((): readonly Product[] => this.productRead.value()?.products ?? []);
  readonly reasons = computed((): CloseReasons | null => this.reasonRead.value());
  readonly fields = computed(() => this.people.fieldsOf('deal'));

  constructor() {
    const stream = inject(ChangeStream);
    stream
      .of('pipeline')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.pipelineRead.again());
    stream
      .of('setting')
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        this.productRead.again();
        this.reasonRead.again();
      });
  }

  /** Reads what is not known yet; every part that shows deals asks for it. */
  wake(): void {
    this.people.wake();
    wake(this.pipelineRead, this.productRead, this.reasonRead);
  }

  stage(id: string): Stage | undefined {
    return this.stages().find((stage) => stage.id === id);
  }

  /** The stage after this one in its pipeline; null behind the last. */
  nextStage(stageId: string): Stage | null {
    const stages = this.pipelineOf(stageId)?.stages ?? [];
    const at = stages.findIndex(({ id }) => id === stageId);
    return at < 0 ? null : (stages[at + 1] ?? null);
  }

  pipelineOf(stageId: string): Pipeline | undefined {
    return this.pipelines().find(({ stages }) => stages.some(({ id }) => id === stageId));
  }

  fact(fact: DealFact): string {
    if (!fact.startsWith('custom:')) return dealFactLabel[fact as keyof typeof dealFactLabel];
    return this.fields().find(({ id }) => `custom:${id}` === fact)?.name ?? $localize`a field`;
  }
}
