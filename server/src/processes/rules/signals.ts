import { eventsThatGo } from '@kettle/contract';
import { findCircle, type RuleLinks, type Signal } from '@kettle/core/rules';
import type { StoredRule } from './stored-rules';

const to = (event: string, where: string | null = null): Signal => ({ event, to: where });
const toEach = (event: string, where: readonly string[]): Signal[] =>
  where.length === 0 ? [to(event)] : where.map((each) => to(event, each));

type Doing = Pick<StoredRule, 'subject' | 'when' | 'then'>;

/** What a rule makes happen, as far as it can be known before: one that is not sure is counted. */
function causesOf({ subject, then }: Doing): Signal[] {
  const changed = to(`${subject}.changed`);
  return then.flatMap((act): Signal[] => {
    switch (act.kind) {
      case 'task':
        return [to('task.created')];
      case 'deal':
        return [to('deal.created'), to('task.created')];
      case 'field':
        return [changed];
      case 'stage':
        return [to('deal.moved', act.stageId), to('task.created'), changed];
      case 'standing':
        return [to('contact.standing-changed', act.standingId), to('contact.changed')];
      case 'owner':
        return [to(`${subject}.owner-changed`, act.ownerId), changed];
      case 'tag':
        return [to('contact.changed')];
      case 'start-cadence':
        return [to('task.created')];
      case 'stop-cadences':
        return [to('cadence.ended')];
      case 'mail':
        return act.to === 'contact' ? [to('touch.logged', 'email-sent'), to('contact.changed')] : [];
      case 'text':
        return [to('touch.logged', 'text-sent'), to('contact.changed')];
      case 'renewal':
        return [to('deal.created'), to('task.created'), to('agreement.changed')];
      case 'notify':
      case 'write':
      case 'hook':
        return [];
    }
  });
}

function waitsOf({ when }: Doing): Signal[] {
  if (when.kind !== 'event') return [];
  return Object.hasOwn(eventsThatGo, when.event) ? toEach(when.event, when.to) : [to(when.event)];
}

const linksOf = (id: string, rule: Doing): RuleLinks => ({
  id,
  waitsFor: waitsOf(rule),
  causes: causesOf(rule),
});

/** The names of rules that would set each other off once this one is on; null when none would. */
export function circleWith(
  rule: Doing & { readonly name: string },
  id: string,
  others: readonly StoredRule[],
): readonly string[] | null {
  const on = others.filter((each) => each.isOn && each.id !== id);
  const circle = findCircle([linksOf(id, rule), ...on.map((each) => linksOf(each.id, each))]);
  if (circle === null || !circle.includes(id)) return null;
  const names = new Map<string, string>([
    ...on.map((each) => [each.id, each.name] as const),
    [id, rule.name],
  ]);
  return circle.map((each) => names.get(each)!);
}
