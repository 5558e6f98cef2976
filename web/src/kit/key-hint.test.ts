import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { showPart } from '../../testing/part';
import { Keys } from '../services/keys';
import { KeyHint } from './key-hint';

@Component({
  selector: 'kettle-test-keyed',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [KeyHint],
  template: `
    <button kettleKey="t">Task</button>
    <button kettleKey="$mod+s">Save</button>
    <button kettleKey="g r">Round</button>
    <button kettleKey="q">Unbound</button>
  `,
})
class Host {
  constructor() {
    const act = () => undefined;
    inject(Keys).bind(
      { keys: 't', words: 'Plan a task', act },
      { keys: '$mod+s', words: 'Save the template', act },
      { keys: 'g r', words: 'Go to Round', act },
    );
  }
}

test('a button’s key is told with what it does there, to the eye and to a screen reader', async () => {
  const part = await showPart(Host);
  const told = (name: string) => {
    const button = part.button(name);
    const by = button.getAttribute('aria-describedby');
    return [
      button.getAttribute('aria-keyshortcuts'),
      by === null ? null : document.getElementById(by)!.textContent,
    ];
  };
  expect(told('Task')).toEqual(['t', 'Plan a task (T)']);
  expect(told('Save')).toEqual(['Control+s', 'Save the template (Ctrl S)']);
  expect(told('Round')).toEqual([null, 'Go to Round (G R)']);
  expect(told('Unbound')).toEqual(['q', null]);
});

test('it is shown to whoever points at the button', async () => {
  const part = await showPart(Host);
  part.button('Task').dispatchEvent(new Event('pointerenter'));
  part.button('Task').dispatchEvent(new Event('mouseenter'));
  await part.pass(600);
  expect(document.querySelector('.cdk-overlay-container .mat-mdc-tooltip')!.textContent).toContain(
    'Plan a task (T)',
  );
});

test('a button that goes before its hint has come leaves nothing behind', async () => {
  const part = await showPart(Host);
  const button = part.button('Task');
  button.dispatchEvent(new Event('pointerenter'));
  part.fixture.destroy();
  await new Promise((resolve) => setTimeout(resolve, 600));
  expect(document.querySelector('.cdk-overlay-container .mat-mdc-tooltip')).toBeNull();
  expect(button.getAttribute('aria-describedby')).toBeNull();
});
