import {
  ChangeDetectionStrategy,
  Component,
  inject,
  input,
  type OnInit,
  output,
  signal,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { Hook, ReplyOf } from '@kettle/contract';
import { hookEventNames, hookEvents, type HookEventName } from '@kettle/contract/hooks/kinds';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { pageFormParts, RecordForm, required } from '../../kit/form';

/** What an address is and what it is told of: of a new web hook, or of one that is changed. */
@Component({
  selector: 'kettle-hook-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts, MatButtonModule, MatCheckboxModule],
  template: `
    <kettle-page-form
      [act]="hook() === null ? texts.add : texts.save"
      [form]="form"
      [named]="nameOf"
      (save)="send()"
    >
      <div class="form-grid">
        <kettle-text-field label="What to call it" i18n-label [formControl]="form.controls.name" />
        <kettle-text-field
          label="Its address"
          i18n-label
          type="url"
          hint="Begins with https:// and takes a POST"
          i18n-hint
          [formControl]="form.controls.url"
        />
      </div>
      <div class="events" role="group" [attr.aria-label]="texts.events">
        @for (name of names; track name) {
          <mat-checkbox [checked]="chosen().has(name)" (change)="choose(name, $event.checked)">
            {{ wordsOf(name) }}
          </mat-checkbox>
        }
      </div>
      @if (hook() !== null) {
        <button i18n besideActs matButton="outlined" type="button" (click)="left.emit()">Cancel</button>
      }
    </kettle-page-form>
  `,
  styleUrls: ['../settings/settings-part.scss', './programs.scss'],
})
export class HookForm implements OnInit {
  protected readonly texts = {
    add: $localize`Tell it`,
    save: $localize`Save`,
    events: $localize`Told when`,
  };

  private readonly api = inject(Api);
  /** The one that is changed; null adds another. */
  readonly hook = input.required<Hook | null>();
  readonly added = output<{ made: ReplyOf<'addHook'>; changeId: string }>();
  readonly done = output<{ hook: Hook; changeId: string }>();
  readonly left = output();
  protected readonly names = hookEventNames;
  protected readonly chosen = signal<ReadonlySet<HookEventName>>(new Set());
  protected readonly form = new RecordForm({ name: required(''), url: required('') });

  ngOnInit(): void {
    const hook = this.hook();
    if (hook === null) return;
    this.form.setValue({ name: hook.name, url: hook.url });
    this.chosen.set(new Set(hook.events));
  }

  /** What is refused of the ticks stands below the form. */
  protected readonly nameOf = (path: string) => (path === 'events' ? this.texts.events : null);

  protected wordsOf(name: HookEventName): string {
    return hookEvents[name].words;
  }

  protected choose(name: HookEventName, isChosen: boolean): void {
    const next = new Set(this.chosen());
    if (isChosen) next.add(name);
    else next.delete(name);
    this.chosen.set(next);
  }

  protected send(): void {
    const hook = this.hook();
    const changeId = v7();
    const body = {
      ...this.form.getRawValue(),
      events: hookEventNames.filter((each) => this.chosen().has(each)),
    };
    if (hook === null)
      return this.form.send(
        body,
        (sent) => this.api.call('addHook', { body: sent }, changeId),
        (made) => {
          this.form.reset();
          this.chosen.set(new Set());
          this.added.emit({ made, changeId });
        },
      );
    this.form.send(
      { ...body, isOn: hook.isOn, version: hook.version },
      (sent) => this.api.call('changeHook', { params: { id: hook.id }, body: sent }, changeId),
      (now) => this.done.emit({ hook: now, changeId }),
    );
  }
}
