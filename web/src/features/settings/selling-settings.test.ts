import { showPart } from '../../../testing/part';
import { SellingSettingsPart } from './selling-settings';

const selling = {
  ...{ version: 1, street: '', postcode: '', city: '', vatId: '', email: '', payment: '', taxPercent: 20 },
  ...{
    validDays: 30,
    remindDays: 5,
    paymentDays: 30,
    intro: '',
    closing: '',
    blocks: [{ name: 'Delivery', text: 'Within two weeks.' }],
  },
};

test('who sells and what quotes begin with is set, with the texts to insert', async () => {
  const part = await showPart(SellingSettingsPart, { role: 'admin' });
  await part.answer('/api/selling-settings', selling);
  await part.type(part.field('VAT number'), 'GB123456789');
  await part.click(part.button('Add a text'));
  await part.type(part.field('Text 2: what it is called'), 'Warranty');
  await part.type(part.field('Text 2'), 'Two years.');
  await part.click(part.button('Remove the text Delivery'));
  part.root.querySelector('form')!.dispatchEvent(new Event('submit'));
  await part.settle();
  expect(part.asked('/api/selling-settings').request.body).toMatchObject({
    vatId: 'GB123456789',
    blocks: [{ name: 'Warranty', text: 'Two years.' }],
  });
});
