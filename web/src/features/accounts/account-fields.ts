import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { Account, Role } from '@kettle/contract';
import type { ApiProblem } from '../../api/api';

export interface AccountDraft {
  readonly name: string;
  readonly email: string | null;
  readonly role: Role;
  readonly managerId: Account['managerId'];
}

/** Name, role and manager of an account; its address too, while it is new. */
@Component({
  selector: 'kettle-account-fields',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule],
  template: `
    <label class="field">
      <span>Name</span>
      <input
        name="name"
        [ngModel]="draft().name"
        (ngModelChange)="set({ name: $event })"
        required
        autocomplete="off"
      />
      @if (problem()?.of('name'); as wrong) {
        <span class="wrong">{{ wrong }}</span>
      }
    </label>
    @if (draft().email !== null) {
      <label class="field">
        <span>E-mail address</span>
        <input
          name="email"
          type="email"
          [ngModel]="draft().email"
          (ngModelChange)="set({ email: $event })"
          required
          autocomplete="off"
        />
        @if (problem()?.of('email'); as wrong) {
          <span class="wrong">{{ wrong }}</span>
        }
      </label>
    }
    <label class="field">
      <span>Role</span>
      <select name="role" [ngModel]="draft().role" (ngModelChange)="set({ role: $event })">
        <option value="rep">rep: changes what is theirs</option>
        <option value="manager">manager: also what their people own</option>
        <option value="admin">admin: everything, settings too</option>
      </select>
      @if (problem()?.of('role'); as wrong) {
        <span class="wrong">{{ wrong }}</span>
      }
    </label>
    <label class="field">
      <span>Manager</span>
      <select name="manager" [ngModel]="draft().managerId" (ngModelChange)="set({ managerId: $event })">
        <option [ngValue]="null">nobody: every manager leads them</option>
        @for (each of leaders(); track each.id) {
          <option [ngValue]="each.id">{{ each.name }}</option>
        }
      </select>
      @if (problem()?.of('managerId'); as wrong) {
        <span class="wrong">{{ wrong }}</span>
      }
    </label>
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-3);
    }
  `,
})
export class AccountFields {
  readonly draft = model.required<AccountDraft>();
  readonly all = input.required<readonly Account[]>();
  /** Whose account it is: nobody leads themself. */
  readonly of = input<Account['id'] | null>(null);
  readonly problem = input<ApiProblem | null>(null);
  protected readonly leaders = computed(() =>
    this.all().filter(({ id, role, state }) => role !== 'rep' && state === 'active' && id !== this.of()),
  );

  protected set(part: Partial<AccountDraft>): void {
    this.draft.update((draft) => ({ ...draft, ...part }));
  }
}
