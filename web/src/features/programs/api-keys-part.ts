import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { ApiKey, KeyScope } from '@kettle/contract';
import { keyAreaLabel, keyAreas, type KeyArea } from '@kettle/contract/api-keys/kinds';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayField } from '../../kit/day-field';
import { field, type Option, pageFormParts, RecordForm, required } from '../../kit/form';
import { DayPipe, MomentPipe } from '../../kit/say.pipes';
import { ShownOnce } from '../../kit/shown-once';
import { Failed } from '../../kit/states';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';

type Way = 'none' | 'read' | 'write';
type AreaControls = Record<KeyArea, ReturnType<typeof field<Way>>>;

/** Keys with which my own programs ask in my name: made, said once, withdrawn. An admin sees everybody’s. */
@Component({
  selector: 'kettle-api-keys',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts, DayField, DayPipe, Failed, MatButtonModule, MomentPipe, ShownOnce],
  template: `
    <section aria-labelledby="api-keys">
      <h2 i18n id="api-keys">My API keys</h2>
      <p i18n class="soft">
        With a key a program of yours asks in your name: it may do what you may, and no more than you tick
        here.
      </p>
      <p>
        <a i18n href="/api/docs" target="_blank" rel="noopener">The API, request by request</a>
      </p>
      @if (read.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="read.again()" />
        }
      }
      @if (token(); as made) {
        <kettle-shown-once label="The new key" i18n-label [value]="made" (kept)="token.set(null)" />
      }
      @if (read.value() !== null) {
        <ul>
          @for (each of mine(); track each.id) {
            <li [class.over]="each.state !== 'counts'">
              <div class="line">
                <b>{{ each.name }}</b>
                <code>{{ each.start }}…</code>
                @if (each.owner !== '' && each.userId !== user.person()?.id) {
                  <span>{{ each.owner }}</span>
                }
                <span class="soft">{{ stateOf(each) }}</span>
                <span class="grow"></span>
                @if (each.state !== 'withdrawn') {
                  @if (asked() === each.id) {
                    <span i18n role="status">Programs that use it stop at once, for good.</span>
                    <button i18n matButton="outlined" type="button" (click)="withdraw(each)">
                      Withdraw it
                    </button>
                    <button i18n matButton type="button" (click)="asked.set(null)">Keep it</button>
                  } @else {
                    <button
                      matButton
                      type="button"
                      [attr.aria-label]="texts.withdraw(each.name)"
                      (click)="asked.set(each.id)"
                    >
                      {{ texts.withdrawIt }}
                    </button>
                  }
                }
              </div>
              <p class="soft">{{ wordsOf(each) }}</p>
              <p class="soft">
                <span i18n>Made {{ each.madeAt | moment }}.</span>
                &ngsp;
                @if (each.usedAt; as at) {
                  <span i18n>Last used {{ at | moment }}.</span>
                } @else {
                  <span i18n>Never used.</span>
                }
                &ngsp;
                @if (each.lastOn; as on) {
                  <span i18n>Counts until {{ on | day }}.</span>
                }
              </p>
            </li>
          } @empty {
            <li i18n class="soft">None yet.</li>
          }
        </ul>
        @if (hidden() > 0) {
          <button matButton type="button" (click)="showsAll.set(true)">{{ texts.showOld(hidden()) }}</button>
        }
      }
      <h3 i18n>Make a key</h3>
      <kettle-page-form act="Make the key" i18n-act [form]="form" [named]="nameOf" (save)="make()">
        <div class="form-grid">
          <kettle-text-field
            label="What it is for"
            i18n-label
            hint="The program that will use it"
            i18n-hint
            [formControl]="form.controls.name"
          />
          <kettle-day-field
            label="Counts until, empty: until withdrawn"
            i18n-label
            [formControl]="form.controls.lastOn"
          />
        </div>
        <h4 i18n>What it may do</h4>
        <div class="form-grid">
          @for (area of areas; track area.name) {
            <kettle-choice-field
              [label]="area.words"
              [formControl]="form.controls[area.name]"
              [options]="ways"
            />
          }
        </div>
        <div class="form-grid">
          <kettle-text-field
            label="Your password"
            i18n-label
            type="password"
            remembered="current-password"
            [formControl]="form.controls.password"
          />
        </div>
      </kettle-page-form>
    </section>
  `,
  styleUrls: ['../settings/settings-part.scss', './programs.scss'],
})
export class ApiKeysPart {
  protected readonly texts = {
    withdrawIt: $localize`withdraw`,
    withdraw: (name: string) => $localize`Withdraw ${name}:name:`,
    showOld: (count: number) => $localize`Show ${count}:count: that no longer count`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly user = inject(CurrentUser);
  protected readonly read = reading((_: null) => this.api.call('apiKeys'));
  protected readonly token = signal<string | null>(null);
  /** The one that is about to be withdrawn. */
  protected readonly asked = signal<string | null>(null);
  protected readonly showsAll = signal(false);
  protected readonly areas = keyAreas.map((name) => ({ name, words: keyAreaLabel[name] }));
  protected readonly ways: readonly Option<Way>[] = [
    { value: 'none', words: $localize`nothing` },
    { value: 'read', words: $localize`read` },
    { value: 'write', words: $localize`read and change` },
  ];
  protected readonly form = new RecordForm({
    name: required(''),
    lastOn: field(''),
    password: required(''),
    ...(Object.fromEntries(keyAreas.map((area) => [area, field<Way>('none')])) as AreaControls),
  });
  private readonly keys = computed(() => this.read.value()?.keys ?? []);
  protected readonly mine = computed(() =>
    this.keys().filter(({ state }) => this.showsAll() || state === 'counts'),
  );
  protected readonly hidden = computed(() => this.keys().length - this.mine().length);

  constructor() {
    this.read.read(null);
  }

  /** What is refused of the choices stands below the form. */
  protected readonly nameOf = (path: string) => (path === 'scopes' ? $localize`What it may do` : null);

  protected stateOf({ state }: ApiKey): string {
    if (state === 'counts') return '';
    return state === 'over' ? $localize`is over` : $localize`is withdrawn`;
  }

  /** @example People and companies: read and change. Journal and talk: read. */
  protected wordsOf({ scopes }: ApiKey): string {
    return scopes
      .map((scope) => {
        const [area, way] = scope.split(':') as [KeyArea, 'read' | 'write'];
        return `${keyAreaLabel[area]}: ${this.ways.find(({ value }) => value === way)!.words}.`;
      })
      .join(' ');
  }

  protected make(): void {
    const { name, lastOn, password, ...ways } = this.form.getRawValue();
    const scopes = keyAreas.flatMap((area): KeyScope[] => {
      const way = ways[area];
      return way === 'none' ? [] : [`${area}:${way}`];
    });
    const body = { name, lastOn: lastOn === '' ? null : lastOn, password, scopes };
    const changeId = v7();
    this.form.send(
      body,
      (sent) => this.api.call('makeApiKey', { body: sent }, changeId),
      ({ token }) => {
        this.form.reset();
        this.token.set(token);
        this.read.again();
      },
    );
  }

  protected withdraw({ id, name }: ApiKey): void {
    this.api.call('withdrawApiKey', { params: { id } }).subscribe({
      next: () => {
        this.asked.set(null);
        this.read.again();
        this.notices.say($localize`${name}:name: is withdrawn: it opens nothing any more.`);
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
