import { Component, inject, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatDialog } from '@angular/material/dialog';
import { showPart } from '../../testing/part';
import { GuardedDialogs } from './guarded-dialogs';

@Component({
  selector: 'kettle-test-form',
  template: `
    <form (submit)="$event.preventDefault(); send()">
      <input aria-label="Name" />
      <input aria-label="Mail" [attr.aria-invalid]="isWrong() ? 'true' : null" />
      <button>Save</button>
    </form>
  `,
})
class Form {
  static sent = 0;
  readonly isWrong = signal(false);
  send(): void {
    Form.sent += 1;
    setTimeout(() => this.isWrong.set(true), 20);
  }
}
@Component({ selector: 'kettle-test-host', template: '' })
class Host {
  readonly guard = inject(GuardedDialogs);
}

beforeAll(() => import('./discard-dialog'));
afterEach(() => document.querySelectorAll('.cdk-overlay-container').forEach((each) => each.remove()));

async function open(disableClose = false) {
  const part = await showPart(Host);
  const opened = TestBed.inject(MatDialog).open(Form, { disableClose });
  await part.pass(10);
  const form = document.querySelector<HTMLElement>('kettle-test-form')!;
  const [name, mail] = form.querySelectorAll('input');
  const escape = async () => {
    document.activeElement!.dispatchEvent(
      new KeyboardEvent('keydown', { key: 'Escape', keyCode: 27, bubbles: true, cancelable: true }),
    );
    await part.pass(60);
  };
  const type = () => name!.dispatchEvent(new Event('input', { bubbles: true }));
  const ask = () => document.querySelector<HTMLElement>('kettle-discard-dialog');
  const press = async (words: string) => {
    [...ask()!.querySelectorAll('button')].find((each) => each.textContent.trim() === words)!.click();
    await part.pass(40);
  };
  const isOpen = () => document.querySelector('kettle-test-form') !== null;
  return { part, opened, form, name, mail, escape, type, ask, press, isOpen };
}

test('Escape closes a dialog into which nothing was typed', async () => {
  const { escape, isOpen, ask } = await open();
  await escape();
  expect([isOpen(), ask()]).toEqual([false, null]);
});

test('what was typed is asked about once, kept or discarded', async () => {
  const { type, escape, ask, press, isOpen } = await open();
  type();
  await escape();
  expect(ask()!.textContent).toContain('Discard what you typed?');
  await press('Keep writing');
  expect([isOpen(), ask()]).toEqual([true, null]);
  await escape();
  await press('Discard');
  expect(isOpen()).toBe(false);
});

test('a press beside it asks too; one that is closed by what it did is not asked', async () => {
  const { part, opened, type, ask, isOpen } = await open();
  type();
  document.querySelector<HTMLElement>('.cdk-overlay-backdrop')!.click();
  await part.pass(40);
  expect(ask()).not.toBeNull();
  opened.close('saved');
  await part.pass(20);
  expect(isOpen()).toBe(false);
});

test('a dialog that says itself how it is left is let be', async () => {
  const { escape, isOpen } = await open(true);
  await escape();
  expect(isOpen()).toBe(true);
});

test('refused after sending, the first wrong field has the focus', async () => {
  const { part, form, mail } = await open();
  form.querySelector('button')!.click();
  await part.pass(60);
  expect(Form.sent).toBe(1);
  expect(document.activeElement).toBe(mail);
});
