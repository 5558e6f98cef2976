import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { TetherFacts } from '@kettle/contract';
import { CurrentUser } from '../services/current-user';
import { Tether } from './tether';

const facts: TetherFacts = {
  lastTouchAt: '2026-11-12T09:00:00.000Z',
  lastTouchKind: 'call',
  lastTouchCounts: 'conversation',
  nextStepOn: '2026-11-27',
  nextStepChannel: 'call',
  nextStepAt: null,
};

function draw(part: Partial<TetherFacts> = {}): SVGSVGElement {
  TestBed.resetTestingModule().configureTestingModule({
    providers: [
      provideZonelessChangeDetection(),
      { provide: CurrentUser, useValue: { timeOf: (at: string) => at.slice(11, 16) } },
    ],
  });
  const fixture = TestBed.createComponent(Tether);
  fixture.componentRef.setInput('facts', { ...facts, ...part });
  fixture.componentRef.setInput('today', '2026-11-24');
  fixture.detectChanges();
  return (fixture.nativeElement as HTMLElement).querySelector('svg')!;
}

const x = (svg: SVGSVGElement, selector: string) => Number(svg.querySelector(selector)?.getAttribute('cx'));

test('the strip is a picture that says the same in words', () => {
  const svg = draw();
  expect(svg.getAttribute('role')).toBe('img');
  expect(svg.getAttribute('aria-label')).toBe('last spoke 12 days ago by phone; next: call in 3 days');
  expect(svg.querySelector('title')?.textContent).toBe(svg.getAttribute('aria-label'));
});

test('a step that was promised for a time says it', () => {
  const svg = draw({ nextStepAt: '2026-11-27T14:05:00.000Z' });
  expect(svg.getAttribute('aria-label')).toContain('next: call in 3 days at 14:05');
});

test.each([
  ['late', '2026-11-20'],
  ['today', '2026-11-24'],
  ['held', '2026-11-25'],
])('its state is told by name for the fill: %s', (state, nextStepOn) => {
  expect(draw({ nextStepOn }).dataset['state']).toBe(state);
});

test('loose: no step is drawn, and the right half is dashed', () => {
  const svg = draw({ nextStepOn: null, nextStepChannel: null });
  expect(svg.dataset['state']).toBe('loose');
  expect(svg.querySelector('.step')).toBeNull();
  expect(Number(svg.querySelector('.gap')?.getAttribute('x1'))).toBeGreaterThanOrEqual(60);
});

test('somebody touched long ago still has a dot, at the very left', () => {
  expect(x(draw({ lastTouchAt: '2024-01-01T09:00:00.000Z' }), '.touch')).toBeCloseTo(7, 5);
});

test('somebody never touched has none', () => {
  expect(draw({ lastTouchAt: null }).querySelector('.touch')).toBeNull();
});

test('touch and step on one day: the diamond is drawn wide enough for the dot to be seen in it', () => {
  const [alone, both] = [
    draw({ nextStepOn: '2026-11-24' }),
    draw({ nextStepOn: '2026-11-24', lastTouchAt: '2026-11-24T08:00:00.000Z' }),
  ];
  const width = (svg: SVGSVGElement) =>
    Number(/^M([\d.]+) ([\d.]+)/.exec(svg.querySelector('.step')!.getAttribute('d')!)![2]);
  expect(width(both)).toBeLessThan(width(alone));
});
