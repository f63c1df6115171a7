import {
  compareHref,
  type CompareParams,
  MAX_COMPARE_TARGETS,
  parseCompareParams,
} from '../../src/components/links/compare-link';

const compared: CompareParams = { a: 'one', others: ['two', 'three'], at: 1, desk: null, cell: null };
const again = (params: CompareParams) => {
  const href = compareHref(params);
  return parseCompareParams((href as { params: Record<string, string> }).params);
};

describe('the address of a comparison', () => {
  test.each<[string, CompareParams]>([
    ['of several, of which one is B', compared],
    ['at a cell', { ...compared, cell: 'in.3/eq' }],
    ['with the desk now', { ...compared, a: 'now', desk: '01DESK' }],
    ['of two', { ...compared, others: ['two'], at: 0 }],
  ])('%s opens it again', (_, params) => expect(again(params)).toEqual(params));

  test('says nothing of what is as usual', () => {
    expect(compareHref({ ...compared, at: 0 })).toEqual({ pathname: '/compare', params: { a: 'one', b: 'two,three' } });
  });

  test.each([
    ['beyond the list', '2'],
    ['below it', '-1'],
    ['no number', 'x'],
  ])('with a B %s begins with the first', (_, at) =>
    expect(parseCompareParams({ a: 'one', b: 'two,three', at })?.at).toBe(0),
  );

  test('with the last of the list has that one', () =>
    expect(parseCompareParams({ a: 'one', b: 'two,three', at: '1' })?.at).toBe(1));

  test('takes no more than can be compared at once', () =>
    expect(parseCompareParams({ a: 'one', b: 'b,c,d,e,f' })?.others).toHaveLength(MAX_COMPARE_TARGETS));

  test.each([{}, { a: 'one' }, { a: 'one', b: ',' }, { b: 'two' }])('%j compares nothing', (params) =>
    expect(parseCompareParams(params)).toBeUndefined(),
  );
});
