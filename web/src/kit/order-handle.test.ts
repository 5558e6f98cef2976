import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import { Component, signal } from '@angular/core';
import fc from 'fast-check';
import { showPart } from '../../testing/part';
import { moved, OrderHandle } from './order-handle';

@Component({
  selector: 'kettle-test-list',
  imports: [CdkDrag, CdkDropList, OrderHandle],
  template: `
    <div cdkDropList>
      @for (name of names(); track name; let at = $index) {
        <p cdkDrag>
          <kettle-order-handle
            [name]="name"
            [at]="at"
            [of]="names().length"
            (moved)="move(at, at + $event)"
          />
        </p>
      }
    </div>
  `,
})
class List {
  readonly names = signal(['Inquiry', 'Survey', 'Offer']);
  move(from: number, to: number): void {
    this.names.update((names) => moved(names, from, to));
  }
}

test('a row is moved by a press and by the arrow keys, and never past the ends', async () => {
  const part = await showPart(List);
  const button = (name: string) => part.root.querySelector<HTMLButtonElement>(`[aria-label="${name}"]`)!;
  await part.click(button('Move Offer up'));
  expect(part.shown.names()).toEqual(['Inquiry', 'Offer', 'Survey']);
  button('Move Inquiry down').dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown' }));
  await part.settle();
  expect(part.shown.names()).toEqual(['Offer', 'Inquiry', 'Survey']);
  await part.click(button('Move Offer up'));
  await part.click(button('Move Survey down'));
  expect(part.shown.names()).toEqual(['Offer', 'Inquiry', 'Survey']);
  expect(button('Move Offer up').getAttribute('aria-disabled')).toBe('true');
});

test('moving there and back is the identity, and loses nothing', () => {
  fc.assert(
    fc.property(fc.uniqueArray(fc.integer(), { minLength: 1 }), fc.nat(), fc.nat(), (items, one, other) => {
      const [from, to] = [one % items.length, other % items.length];
      const there = moved(items, from, to);
      expect(there[to]).toBe(items[from]);
      expect(moved(there, to, from)).toEqual(items);
    }),
  );
});
