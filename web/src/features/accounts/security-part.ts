import { tableParts } from '../../kit/table';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { AccountsSettings, SecurityEvent } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { keptSettings, type Option, pageFormParts, RecordForm, required, field } from '../../kit/form';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';

const labels: Readonly<Record<string, string>> = {
  idleHours: 'Hours without use',
  absoluteDays: 'Days after signing in',
  secondFactorFrom: 'Second factor',
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
    { value: 'nobody', words: 'nobody; everybody may have one' },
    { value: 'admin', words: 'admins' },
    { value: 'manager', words: 'managers and admins' },
    { value: 'rep', words: 'everybody' },
  ];
  protected readonly settings = keptSettings(this.form, {
    read: () => this.api.call('accountsSettings'),
    save: (body: AccountsSettings, changeId) => this.api.call('changeAccountsSettings', { body }, changeId),
    saved: 'Saved.',
    after: () => this.log.read(this.kind()),
  });
  protected readonly kind = signal('');
  protected readonly log = reading((kind: string) =>
    this.api.call('listSecurityEvents', { query: kind === '' ? {} : { kind } }),
  );
  protected readonly kinds = computed((): Option<string>[] => [
    { value: '', words: 'everything' },
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
      ...(device === undefined ? [] : [`${device}${isNew === 1 ? ', for the first time' : ''}`]),
      ...(from === undefined ? [] : [`${from} → ${to}`]),
      ...Object.entries(rest).map(([name, value]) => (name === 'why' ? `${value}` : `${name}: ${value}`)),
    ].join(' · ');
  }
}
