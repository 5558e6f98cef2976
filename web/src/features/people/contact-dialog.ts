import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Channel, Contact } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { Here } from '../../shell/here';

/** Adds a person or changes one; over another person's change it shows theirs and keeps what was typed. */
@Component({
  selector: 'kettle-contact-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, MatDialogModule],
  templateUrl: './contact-dialog.html',
})
export class ContactDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<ContactDialog>);
  protected readonly before = inject<Contact | null>(MAT_DIALOG_DATA);
  protected readonly labels = channelLabel;
  protected readonly channels: readonly Channel[] = ['call', 'email', 'text', 'visit'];
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly standings = reading((_: null) => this.api.call('listStandings'));
  protected readonly theirs = computed(() =>
    this.problem()?.code === 'stale' ? (this.problem()?.current as Contact) : null,
  );

  private version = this.before?.version ?? 1;
  protected readonly form = {
    givenName: this.before?.givenName ?? '',
    familyName: this.before?.familyName ?? '',
    jobTitle: this.before?.jobTitle ?? '',
    companyName: this.before?.companyName ?? '',
    email: this.before?.email ?? '',
    phone: this.before?.phone ?? '',
    country: this.before?.country ?? inject(Here).person()?.country ?? 'GB',
    zone: this.before?.zone ?? '',
    standingId: (this.before?.standingId ?? '') as string,
    checkInDays: this.before?.checkInDays ?? null,
  };
  protected readonly forbidden = new Set<Channel>(this.before?.doNotContact.map((mark) => mark.channel));

  constructor() {
    this.standings.read(null);
  }

  protected forbid(channel: Channel, isForbidden: boolean): void {
    if (isForbidden) this.forbidden.add(channel);
    else this.forbidden.delete(channel);
  }

  protected save(): void {
    const { form } = this;
    const standingId = form.standingId || this.standings.value()?.standings[0]?.standing.id || '';
    const orNull = (text: string) => text.trim() || null;
    const body = {
      givenName: form.givenName,
      familyName: form.familyName,
      jobTitle: orNull(form.jobTitle),
      companyName: orNull(form.companyName),
      email: orNull(form.email),
      phone: orNull(form.phone),
      country: form.country.trim().toUpperCase(),
      zone: orNull(form.zone),
      standingId,
      checkInDays: form.checkInDays || null,
      doNotContact: [...this.forbidden],
    };
    const asked = this.before
      ? this.api.call('changeContact', {
          params: { id: this.before.id },
          body: { ...body, version: this.version },
        })
      : this.api.call('createContact', { body });
    asked.subscribe({
      next: (made) => this.dialog.close(made),
      error: (error: unknown) => {
        const problem = problemOf(error);
        this.problem.set(problem);
        if (problem.code === 'stale') this.version = (problem.current as Contact).version;
      },
    });
  }
}
