import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { isUnavailable, showPart } from '../../testing/part';
import { WhyNot } from './why-not';

@Component({
  selector: 'kettle-test-why-not',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [WhyNot, MatButtonModule],
  template: `
    <form (submit)="sent.set(sent() + 1); $event.preventDefault()">
      <button
        matButton
        [kettleWhyNot]="text() ? null : 'Write something first.'"
        (click)="pressed.set(pressed() + 1)"
      >
        Save
      </button>
    </form>
  `,
})
class Host {
  readonly text = signal('');
  readonly pressed = signal(0);
  readonly sent = signal(0);
}

test('what would do nothing says why: to a reader, when pressed, and does not happen', async () => {
  const part = await showPart(Host);
  const button = part.button('Save');
  expect([isUnavailable(button), button.disabled]).toEqual([true, false]);
  expect(document.getElementById(button.getAttribute('aria-describedby')!)!.textContent).toBe(
    'Write something first.',
  );
  await part.click(button);
  await part.pass(50);
  expect(document.querySelector('.cdk-overlay-container .mat-mdc-tooltip')!.textContent).toContain(
    'Write something first.',
  );
  expect([part.shown.pressed(), part.shown.sent()]).toEqual([0, 0]);
});

test('when nothing stands in the way it is a button like any other', async () => {
  const part = await showPart(Host);
  part.shown.text.set('soft water');
  await part.settle();
  expect(isUnavailable(part.button('Save'))).toBe(false);
  expect(part.button('Save').getAttribute('aria-describedby')).toBeNull();
  await part.click(part.button('Save'));
  expect([part.shown.pressed(), part.shown.sent()]).toEqual([1, 1]);
});
