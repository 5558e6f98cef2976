import fc from 'fast-check';
import { fill, type Facts } from './fill';

const facts: Facts = {
  contact: { given_name: 'Ines', job_title: null },
  company: { name: 'Fen Street & Sons' },
};
const fillBody = (body: string, snippets = {}) => fill({ subject: 's', body }, facts, snippets);

describe('filling a text', () => {
  test('puts facts in their places, as they are', () => {
    expect(fillBody('Dear {{ contact.given_name }} of {{ company.name }}')).toEqual({
      subject: 's',
      body: 'Dear Ines of Fen Street & Sons',
      missing: [],
      wrong: [],
    });
  });
  test('names what is asked for and not known', () => {
    expect(fillBody('As {{ contact.job_title }} you know').missing).toEqual(['contact.job_title']);
  });
  test('a fact behind a condition or with another word for it is not missing', () => {
    const text =
      '{% if contact.job_title %}As {{ contact.job_title }} you know. {% endif %}Dear {{ contact.job_title | default: "friend" }}';
    expect(fillBody(text)).toMatchObject({ body: 'Dear friend', missing: [] });
  });
  test('a fact there is not, a filter there is not, and a broken tag are said with their line', () => {
    expect(fillBody('a\n{{ contact.shoe_size }}').wrong).toEqual([
      'text: line 2: undefined variable: contact.shoe_size',
    ]);
    expect(fillBody('{{ contact.given_name | shout }}').wrong[0]).toContain('shout');
    expect(fillBody('{% if contact.given_name %}x').wrong[0]).toContain('not closed');
  });
  test('snippets are brought in, with the same facts', () => {
    const snippets = { greeting: 'Dear {{ contact.given_name }},' };
    expect(fillBody("{% include 'greeting' %} hello", snippets).body).toBe('Dear Ines, hello');
    expect(fillBody("{% include 'nothing' %}").wrong).toHaveLength(1);
  });
  test('a text without an end has one', () => {
    const endless = '{% for a in (1..100000) %}{% for b in (1..100000) %}x{% endfor %}{% endfor %}';
    expect(fillBody(endless).wrong).toHaveLength(1);
  });
  test('facts are never read as a text themselves', () => {
    fc.assert(
      fc.property(
        fc.string({ minLength: 1 }).filter((text) => text.trim() !== ''),
        (name) => {
          const { body, wrong } = fill(
            { subject: 's', body: '[{{ contact.given_name }}]' },
            { contact: { given_name: name } },
            {},
          );
          expect(wrong).toEqual([]);
          expect(body).toBe(`[${name}]`.replace(/\n{3,}/g, '\n\n'));
        },
      ),
    );
  });
});
