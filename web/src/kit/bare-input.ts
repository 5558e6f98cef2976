import { Directive } from '@angular/core';

/**
 * An input without a box of its own, inside a part that draws one: the search in the bar. No form field comes with it, so that the
 * first page stays light.
 */
@Directive({ selector: 'input[kit-bare]', host: { class: 'kit-bare' } })
export class BareInput {}
