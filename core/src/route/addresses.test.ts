import { kilometres, pointOfPostcode, postcodeAreas, readPoint } from '.';

describe('where an address is', () => {
  test('follows from its postcode, however it is written', () => {
    const penrow = postcodeAreas['ZM2']!;
    expect(pointOfPostcode('zm2')).toEqual({ latitude: penrow.latitude, longitude: penrow.longitude });
    expect(pointOfPostcode(' ZM2 5AB ')).toEqual(pointOfPostcode('zm25ab'));
    expect(kilometres(pointOfPostcode('ZM2 5AB')!, penrow)).toBeLessThan(4);
  });

  test('two addresses of a town are at two places', () => {
    expect(pointOfPostcode('ZM2 5AB')).not.toEqual(pointOfPostcode('ZM2 6AB'));
    expect(pointOfPostcode('ZM2 5AB')).not.toEqual(pointOfPostcode('ZM2 5AC'));
  });

  test('is not known of a postcode that is in no table', () => {
    for (const text of [null, '', 'ZM99', 'ZM2 5A', '1012 AB', 'somewhere'])
      expect(pointOfPostcode(text)).toBeNull();
  });

  test('is read as it is typed: a postcode or degrees', () => {
    expect(readPoint('54.02, -5.31')).toEqual({ latitude: 54.02, longitude: -5.31 });
    expect(readPoint('54.02 -5.31')).toEqual({ latitude: 54.02, longitude: -5.31 });
    expect(readPoint('ZM10')).toMatchObject({ latitude: 54.17 });
    expect(readPoint('95, 10')).toBeNull();
    expect(readPoint('at home')).toBeNull();
  });
});
