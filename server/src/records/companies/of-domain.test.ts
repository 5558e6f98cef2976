import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact } from '../../../testing/people';
import type { SignedIn } from '../users/index';
import { companiesOfDomain } from './of-domain';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
afterAll(() => installation.close());

const everybody = { reach: { reads: 'everybody' } } as SignedIn;
const namesOf = async (address: string) =>
  (await companiesOfDomain(installation.services.database, everybody, address)).map(({ name }) => name);
const works = (companyName: string, email: string) => aContact(rep, { companyName, email, phone: null });

test('a firm is found by any host below its domain, in either spelling, and never by letters of another', async () => {
  await works('Skell Laundry', 'ada@skell.example');
  await works('Great Skell Hotel', 'tom@greatskell.example');
  await works('Müller Bad', 'eva@xn--mller-kva.example');
  expect(await namesOf('new@mail.skell.example')).toEqual(['Skell Laundry']);
  expect(await namesOf('new@post.müller.example')).toEqual(['Müller Bad']);
  expect(await namesOf('new@kell.example')).toEqual([]);
});

test('customers of one provider, and users of free mail, are not one firm', async () => {
  await works('Wren Brewery', 'ada@wren.uk.com');
  await works('Penrow Bakery', 'noor@gmail.com');
  expect(await namesOf('new@wren.uk.com')).toEqual(['Wren Brewery']);
  expect(await namesOf('new@finch.uk.com')).toEqual([]);
  expect(await namesOf('new@gmail.com')).toEqual([]);
});

test('a domain from which people of three companies write says nothing', async () => {
  for (const name of ['One', 'Two', 'Three']) await works(name, `${name}@centre.example`);
  expect(await namesOf('new@centre.example')).toEqual([]);
});
