import { ChangeDetectionStrategy, Component, inject, linkedSignal, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { AccountsSettings, SecurityEvent } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Conflicts, Submission } from '../../kit/conflicts';
import { choiceParts } from '../../kit/choice';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { Undo } from '../../services/undo';

const labels: Readonly<Record<string, string>> = {
  idleHours: 'Hours without use',
  absoluteDays: 'Days after signing in',
  secondFactorFrom: 'Second factor',
};

/** How long sessions last, who needs a second factor, and what happened to accounts. */
@Component({
  selector: 'kettle-security-part',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [choiceParts, MatButtonModule, Conflicts, Failed, FormsModule, MomentPipe, Waiting],
  templateUrl: './security-part.html',
  styleUrls: ['../settings/settings-part.scss', './accounts.scss'],
})
export class SecurityPart {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly stored = reading((_: null) => this.api.call('accountsSettings'));
  protected readonly chosen = linkedSignal((): AccountsSettings | null => this.stored.value());
  protected readonly kind = signal('');
  protected readonly log = reading((kind: string) =>
    this.api.call('listSecurityEvents', { query: kind === '' ? {} : { kind } }),
  );
  protected readonly saving = new Submission();
  protected readonly labelOf = (path: string) => labels[path] ?? null;

  constructor() {
    this.stored.read(null);
    this.log.read('');
  }

  protected set(part: Partial<AccountsSettings>): void {
    this.chosen.update((chosen) => chosen && { ...chosen, ...part });
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

  protected save(): void {
    const chosen = this.chosen();
    if (chosen === null) return;
    const changeId = v7();
    this.api.call('changeAccountsSettings', { body: this.saving.bodyOf(chosen) }, changeId).subscribe({
      next: (saved) => {
        this.stored.put(saved);
        this.saving.clear();
        this.log.read(this.kind());
        this.undo.offer('Saved.', changeId, () => this.stored.again());
      },
      error: this.saving.refuse,
    });
  }
}
