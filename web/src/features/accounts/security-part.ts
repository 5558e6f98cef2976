import { tableParts } from '../../kit/table';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { AccountsSettings, SecurityEvent } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { keptSettings, type Option, pageFormParts, RecordForm, required, field } from '../../kit/form';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';

const labels: Readonly<Record<string, string>> = {
  idleHours: $localize`Hours without use`,
  absoluteDays: $localize`Days after signing in`,
  secondFactorFrom: $localize`Second factor`,
};

/** How long sessions last, who needs a second factor, and what happened to accounts. */
@Component({
  selector: 'kettle-security-part',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [tableParts, pageFormParts, Failed, MomentPipe, Waiting],
  templateUrl: './security-part.html',
  styleUrls: ['../settings/settings-part.scss', './accounts.scss'],
})
export class SecurityPart {
  private readonly api = inject(Api);
  protected readonly form = new RecordForm({
    idleHours: required<number>(null),
    absoluteDays: required<number>(null),
    secondFactorFrom: field<AccountsSettings['secondFactorFrom']>('nobody'),
  });
  protected readonly factorOf: readonly Option<AccountsSettings['secondFactorFrom']>[] = [
    { value: 'nobody', words: $localize`nobody; everybody may have one` },
    { value: 'admin', words: $localize`admins` },
    { value: 'manager', words: $localize`managers and admins` },
    { value: 'rep', words: $localize`everybody` },
  ];
  protected readonly settings = keptSettings(this.form, {
    read: () => this.api.call('accountsSettings'),
    save: (body: AccountsSettings, changeId) => this.api.call('changeAccountsSettings', { body }, changeId),
    saved: $localize`Saved.`,
    after: () => this.log.read(this.kind()),
  });
  protected readonly kind = signal('');
  protected readonly log = reading((kind: string) =>
    this.api.call('listSecurityEvents', { query: kind === '' ? {} : { kind } }),
  );
  protected readonly kinds = computed((): Option<string>[] => [
    { value: '', words: $localize`everything` },
    ...(this.log.value()?.kinds ?? []).map((value) => ({ value, words: value.replaceAll('-', ' ') })),
  ]);
  protected readonly labelOf = (path: string) => labels[path] ?? null;

  constructor() {
    this.log.read('');
  }

  protected show(kind: string): void {
    this.kind.set(kind);
    this.log.read(kind);
  }

  /** @example 'Chrome on Linux, for the first time' */
  protected dataOf({ data }: SecurityEvent): string {
    const { device, isNew, from, to, ...rest } = data;
    return [
      ...(device === undefined ? [] : [`${device}${isNew === 1 ? $localize`, for the first time` : ''}`]),
      ...(from === undefined ? [] : [`${from} → ${to}`]),
      ...Object.entries(rest).map(([name, value]) => (name === 'why' ? `${value}` : `${name}: ${value}`)),
    ].join(' · ');
  }
}
