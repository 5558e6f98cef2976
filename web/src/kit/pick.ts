import { Directive } from '@angular/core';

/**
 * A button that is what it names: a row's name, a bar, a block of the day. It looks like its content, and has the focus ring,
 * the target and the pointer of every button.
 * @example <button kit-pick (click)="open(row)">{{ row.name }}</button>
 */
@Directive({ selector: 'button[kit-pick]', host: { class: 'kit-pick', type: 'button' } })
export class Pick {}
