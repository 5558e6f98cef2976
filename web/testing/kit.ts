import {
  type BaseHarnessFilters,
  ComponentHarness,
  type ComponentHarnessConstructor,
  HarnessPredicate,
  TestKey,
} from '@angular/cdk/testing';
import { MatAutocompleteHarness } from '@angular/material/autocomplete/testing';
import { type MatCalendarHarness, MatDatepickerInputHarness } from '@angular/material/datepicker/testing';
import { MatFormFieldHarness } from '@angular/material/form-field/testing';
import { MatSelectHarness } from '@angular/material/select/testing';

/** Harnesses of the kit: what a person does with each part and reads of it, whatever it is made of. */

interface Labelled extends BaseHarnessFilters {
  readonly label?: string | RegExp;
}

/** What every field has: its name, what is wrong with it, and whether it must be filled in. */
abstract class FieldHarness extends ComponentHarness {
  protected readonly frame = this.locatorFor(MatFormFieldHarness);

  static with<Harness extends FieldHarness>(
    this: ComponentHarnessConstructor<Harness>,
    options: Labelled = {},
  ): HarnessPredicate<Harness> {
    return new HarnessPredicate(this, options).addOption('label', options.label ?? null, (harness, label) =>
      HarnessPredicate.stringMatches(harness.label(), label),
    );
  }

  async label(): Promise<string> {
    return (await (await this.frame()).getLabel()) ?? '';
  }
  /** What is wrong with it; null when nothing is. */
  async problem(): Promise<string | null> {
    return (await (await this.frame()).getTextErrors())[0] ?? null;
  }
  async hint(): Promise<string | null> {
    return (await (await this.frame()).getTextHints())[0] ?? null;
  }
  async isDisabled(): Promise<boolean> {
    return (await this.frame()).isDisabled();
  }
}

/** A field that is typed into. */
export abstract class TypedHarness extends FieldHarness {
  protected readonly box = this.locatorFor('input, textarea');

  async text(): Promise<string> {
    return (await this.box()).getProperty<string>('value');
  }
  async type(text: string): Promise<void> {
    const box = await this.box();
    await box.setInputValue(text);
    await box.dispatchEvent('input');
  }
  async leave(): Promise<void> {
    await (await this.box()).blur();
  }
  async isRequired(): Promise<boolean> {
    return (await this.box()).getProperty<boolean>('required');
  }
}

/** A field that is typed into and proposes. */
abstract class ProposingHarness extends TypedHarness {
  private readonly list = this.locatorFor(MatAutocompleteHarness);

  async proposals(): Promise<string[]> {
    const list = await this.list();
    await list.focus();
    return Promise.all((await list.getOptions()).map((each) => each.getText()));
  }
  async take(proposal: string | RegExp): Promise<void> {
    const list = await this.list();
    await list.focus();
    await list.selectOption({ text: proposal });
  }
}

export class TextFieldHarness extends TypedHarness {
  static readonly hostSelector = 'kettle-text-field';
}
export class ProposedFieldHarness extends ProposingHarness {
  static readonly hostSelector = 'kettle-proposed-field';
}
export class NumberFieldHarness extends TypedHarness {
  static readonly hostSelector = 'kettle-number-field';
  /** The unit that stands behind it, if any. */
  unit = async (): Promise<string> => (await this.frame()).getSuffixText();
}
export class PhoneFieldHarness extends TypedHarness {
  static readonly hostSelector = 'kettle-phone-field';
}
export class TimeFieldHarness extends TypedHarness {
  static readonly hostSelector = 'kettle-time-field';
}
export class LongChoiceFieldHarness extends ProposingHarness {
  static readonly hostSelector = 'kettle-long-choice-field';
}

/** The field of the door, which has no frame of Material's. */
export class LightFieldHarness extends TypedHarness {
  static readonly hostSelector = 'kettle-light-field';
  private readonly name = this.locatorFor('label > span');
  private readonly wrong = this.locatorForOptional('.wrong');

  override label = async (): Promise<string> => (await this.name()).text();
  override problem = async (): Promise<string | null> => (await this.wrong())?.text() ?? null;
  override hint = (): Promise<null> => Promise.resolve(null);
  override isDisabled = async (): Promise<boolean> => (await this.box()).getProperty<boolean>('disabled');
}

export class ChoiceFieldHarness extends FieldHarness {
  static readonly hostSelector = 'kettle-choice-field';
  private readonly select = this.locatorFor(MatSelectHarness);

  chosen = async (): Promise<string> => (await this.select()).getValueText();

  async choices(): Promise<string[]> {
    const select = await this.select();
    await select.open();
    const words = await Promise.all((await select.getOptions()).map((each) => each.getText()));
    await select.close();
    return words;
  }
  async choose(choice: string | RegExp): Promise<void> {
    await (await this.select()).clickOptions({ text: choice });
  }
}

export class DayFieldHarness extends TypedHarness {
  static readonly hostSelector = 'kettle-day-field';
  private readonly day = this.locatorFor(MatDatepickerInputHarness);

  /** Picks a day of the month that the calendar opens at. */
  async pick(day: string): Promise<void> {
    const input = await this.day();
    await input.openCalendar();
    const calendar: MatCalendarHarness = await input.getCalendar();
    await calendar.selectCell({ text: day });
  }
}

export class MomentFieldHarness extends ComponentHarness {
  static readonly hostSelector = 'kettle-moment-field';
  readonly day = this.locatorFor(DayFieldHarness);
  readonly time = this.locatorFor(TimeFieldHarness);
}

export class TagsFieldHarness extends FieldHarness {
  static readonly hostSelector = 'kettle-tags-field';
  private readonly rows = this.locatorForAll('mat-chip-row');
  private readonly box = this.locatorFor('input');

  tags = async (): Promise<string[]> => Promise.all((await this.rows()).map((each) => each.text()));
  async add(tag: string): Promise<void> {
    const box = await this.box();
    await box.setInputValue(tag);
    await box.dispatchEvent('input');
    await box.sendKeys(TestKey.ENTER);
  }
  async remove(tag: string): Promise<void> {
    const cross = await this.locatorFor(`[aria-label="Remove ${tag}"]`)();
    await cross.click();
  }
}

export class FileFieldHarness extends ComponentHarness {
  static readonly hostSelector = 'kettle-file-field';
  private readonly button = this.locatorFor('button');
  label = async (): Promise<string> => (await this.button()).text();
  isDisabled = async (): Promise<boolean> => (await this.button()).getProperty<boolean>('disabled');
}

export class DayProposalsHarness extends ComponentHarness {
  static readonly hostSelector = 'kettle-day-proposals';
  private readonly buttons = this.locatorForAll('button');
  days = async (): Promise<string[]> =>
    Promise.all((await this.buttons()).map(async (each) => (await each.text()).replace(/\s+/g, ' ')));
  async take(day: RegExp): Promise<void> {
    for (const button of await this.buttons()) if (day.test(await button.text())) return button.click();
    throw new Error(`no day ${String(day)} is proposed`);
  }
}

/** A form on a page or in a dialog: its act, and what came of it. */
abstract class FormHarness extends ComponentHarness {
  private readonly act = this.locatorFor('button.mat-mdc-unelevated-button');
  private readonly told = this.locatorForOptional('[role=alert]');

  async send(): Promise<void> {
    await (await this.act()).click();
  }
  isSending = async (): Promise<boolean> =>
    (await (await this.act()).getAttribute('aria-disabled')) === 'true';
  problem = async (): Promise<string | null> => (await this.told())?.text() ?? null;
  readonly conflicts = this.locatorFor(ConflictsHarness);
}
export class PageFormHarness extends FormHarness {
  static readonly hostSelector = 'kettle-page-form';
}
export class DialogFormHarness extends FormHarness {
  static readonly hostSelector = 'kettle-dialog-form';
  private readonly head = this.locatorFor('[mat-dialog-title]');
  title = async (): Promise<string> => (await this.head()).text();
}

/** Where two changed the same field: each with both values. */
export class ConflictsHarness extends ComponentHarness {
  static readonly hostSelector = 'kettle-conflicts';
  private readonly parts = this.locatorForAll('fieldset legend');
  fields = async (): Promise<string[]> => Promise.all((await this.parts()).map((each) => each.text()));
  async choose(at: number, whose: 'mine' | 'theirs'): Promise<void> {
    const inputs = await this.locatorForAll(`mat-radio-button[value=${whose}] input`)();
    await inputs[at]!.click();
  }
}

export class TableHarness extends ComponentHarness {
  static readonly hostSelector = 'kettle-table';
  private readonly table = this.locatorFor('table');

  static with(options: Labelled = {}): HarnessPredicate<TableHarness> {
    return new HarnessPredicate(TableHarness, options).addOption(
      'label',
      options.label ?? null,
      (harness, label) => HarnessPredicate.stringMatches(harness.label(), label),
    );
  }
  label = async (): Promise<string | null> => (await this.table()).getAttribute('aria-label');
  heads = async (): Promise<string[]> =>
    Promise.all((await this.locatorForAll('th')()).map((each) => each.text()));
  /** The words of each cell, row by row; what stands below a row is a row of its own. */
  async rows(): Promise<string[][]> {
    const rows: string[][] = [];
    const count = (await this.locatorForAll('tbody tr')()).length;
    for (let at = 1; at <= count; at += 1) {
      const cells = await this.locatorForAll(`tbody tr:nth-child(${at}) td`)();
      rows.push(await Promise.all(cells.map((each) => each.text())));
    }
    return rows;
  }
}

export class ChartHarness extends ComponentHarness {
  static readonly hostSelector = 'kettle-chart';
  private readonly canvas = this.locatorFor('canvas');
  private readonly status = this.locatorFor('[role=status]');
  readonly numbers = this.locatorFor(TableHarness);
  label = async (): Promise<string | null> => (await this.canvas()).getAttribute('aria-label');
  told = async (): Promise<string> => (await this.status()).text();
  async press(...keys: TestKey[]): Promise<void> {
    for (const key of keys) await (await this.canvas()).sendKeys(key);
  }
}

export class OrderHandleHarness extends ComponentHarness {
  static readonly hostSelector = 'kettle-order-handle';
  private readonly buttons = this.locatorForAll('button');
  async move(by: 1 | -1): Promise<void> {
    const [up, down] = await this.buttons();
    await (by < 0 ? up! : down!).click();
  }
  /** By the arrow keys, from either button. */
  async press(key: TestKey): Promise<void> {
    await (await this.buttons())[0]!.sendKeys(key);
  }
}

export class TetherHarness extends ComponentHarness {
  static readonly hostSelector = 'kettle-tether';
  private readonly strip = this.locatorFor('svg');
  words = async (): Promise<string | null> => (await this.strip()).getAttribute('aria-label');
  state = async (): Promise<string | null> => (await this.strip()).getAttribute('data-state');
}

export class StepDayHarness extends ComponentHarness {
  static readonly hostSelector = 'kettle-step-day';
  words = async (): Promise<string> => (await this.host()).text();
}

/** A button that says why it would do nothing. */
export class WhyNotHarness extends ComponentHarness {
  static readonly hostSelector = 'button[kettleWhyNot], button.why-not';
  isOff = async (): Promise<boolean> => (await (await this.host()).getAttribute('aria-disabled')) === 'true';
  press = async (): Promise<void> => (await this.host()).click();
}

export class EmptyHarness extends ComponentHarness {
  static readonly hostSelector = 'kettle-empty';
  private readonly head = this.locatorFor('h2');
  private readonly says = this.locatorFor('p');
  title = async (): Promise<string> => (await this.head()).text();
  words = async (): Promise<string> => (await this.says()).text();
}
export class FailedHarness extends ComponentHarness {
  static readonly hostSelector = 'kettle-failed';
  private readonly button = this.locatorFor('button');
  private readonly says = this.locatorFor('[role=alert] .now');
  words = async (): Promise<string> => (await this.says()).text();
  again = async (): Promise<void> => (await this.button()).click();
}
export class WaitingHarness extends ComponentHarness {
  static readonly hostSelector = 'kettle-waiting';
  private readonly says = this.locatorFor('[role=status]');
  words = async (): Promise<string> => (await this.says()).text();
}
