import { ChangeDetectionStrategy, Component, computed, inject, model } from '@angular/core';
import { ChoiceField, named } from '../../kit/choice-field';
import { KitField, kitField } from '../../kit/kit-field';
import { DealWords, stageWords } from './deal-words';

/**
 * Where a deal stands: its pipeline, where there are several, then one of its stages. Another pipeline begins at its first stage.
 * @example <kettle-stage-field [formControl]="form.controls.stageId" />
 */
@Component({
  selector: 'kettle-stage-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField],
  providers: [kitField(() => StageField)],
  template: `
    @if (words.pipelines().length > 1) {
      <kettle-choice-field
        label="Pipeline"
        i18n-label
        [value]="pipeline()?.id ?? null"
        (valueChange)="begin($event)"
        [options]="pipelines()"
      />
    }
    <kettle-choice-field
      label="Stage"
      i18n-label
      [value]="value()"
      (valueChange)="put($event ?? '')"
      [options]="stages()"
      [problem]="wrong()"
      [required]="isRequired()"
    />
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class StageField extends KitField<string> {
  protected readonly words = inject(DealWords);
  readonly value = model('');
  protected readonly empty = '';
  protected readonly pipeline = computed(
    () => this.words.pipelineOf(this.value()) ?? this.words.pipelines()[0],
  );
  protected readonly pipelines = computed(() => named<string>(this.words.pipelines()));
  protected readonly stages = computed(() =>
    (this.pipeline()?.stages ?? []).map((stage) => ({ value: stage.id as string, words: stageWords(stage) })),
  );

  protected begin(pipelineId: string | null): void {
    const [first] = this.words.pipelines().find(({ id }) => id === pipelineId)?.stages ?? [];
    if (first) this.put(first.id);
  }
}
