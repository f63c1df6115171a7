import fc from 'fast-check';

import { choiceOf, choosableSections, choosableStrips, scopeOf } from '../src/scope/choice';
import { holdStrip } from '../src/scope/hold-strip';
import { compileScope, safeStrips } from '../src/scope/compile';
import { EVERYTHING, type Safes, type Scope } from '../src/scope/rules';
import { plainText, scopeSentence } from '../src/scope/sentence';
import { boathouse, PROFILES, quay } from './profiles';

const take = (strips: string[], sections: string[]) => ({ strips, sections, take: true });
const leave = (strips: string[], sections: string[]) => ({ strips, sections, take: false });
const fate = (scope: Scope, safes: Safes, strip: string, section: string) =>
  compileScope(quay, scope, safes).cells[strip]?.[section];

describe('scope', () => {
  test.each([
    ['what no rule names stays', [], [], 'in.1', 'eq', 'out of scope'],
    ['a rule takes a strip', [take(['in.1'], ['eq'])], [], 'in.1', 'eq', 'comes back'],
    ['a rule takes a family', [take(['in'], ['eq'])], [], 'in.48', 'eq', 'comes back'],
    [
      'the last rule that matches wins',
      [take(['in'], ['*']), leave(['in.3'], ['eq'])],
      [],
      'in.3',
      'eq',
      'out of scope',
    ],
    ['an earlier rule does not', [leave(['in.3'], ['eq']), take(['in'], ['*'])], [], 'in.3', 'eq', 'comes back'],
    [
      'a safe strip stays although the scope names it',
      [take(['in.3'], ['eq'])],
      [{ strips: ['in.3'], sections: ['*'] }],
      'in.3',
      'eq',
      'safe',
    ],
    [
      'a safe cell leaves the strip’s other cells',
      [take(['in.3'], ['*'])],
      [{ strips: ['in.3'], sections: ['fader'] }],
      'in.3',
      'eq',
      'comes back',
    ],
    ['globals do not come back by themselves', EVERYTHING, [], 'desk.1', 'clock', 'global'],
    [
      'globals come back when asked for by name',
      [...EVERYTHING, take(['desk'], ['*'])],
      [],
      'desk.1',
      'clock',
      'comes back',
    ],
  ] as const)('%s', (_, scope, safes, strip, section, expected) => {
    expect(fate(scope as unknown as Scope, safes as unknown as Safes, strip, section)).toBe(expected);
  });

  test('a single setting can be safe inside a section that comes back', () => {
    const { cells, safeSettings } = compileScope(quay, EVERYTHING, [
      { strips: ['in'], sections: ['*'], settings: ['sends/mix.3/level'] },
    ]);
    expect(cells['in.1']?.['sends']).toBe('comes back');
    expect(safeSettings.has('in.1/sends/mix.3/level')).toBe(true);
    expect(safeSettings.size).toBe(48);
  });

  test.each(PROFILES)('on %s no safe cell ever comes back, whatever the rules', (_, profile) => {
    const strips = fc.subarray(['*', 'in', 'fx', 'main', 'desk', ...profile.strips], { maxLength: 6 });
    const sections = fc.subarray(['*', ...choosableSections(profile)], { maxLength: 6 });
    const rules = fc.array(fc.record({ strips, sections, take: fc.boolean() }), { maxLength: 6 });
    const safes = fc.array(fc.record({ strips, sections }), { maxLength: 3 });
    fc.assert(
      fc.property(rules, safes, (scope, safe) => {
        const free = compileScope(profile, scope).cells;
        const held = compileScope(profile, EVERYTHING.concat(scope), safe).cells;
        const onlySafe = compileScope(profile, [], safe).cells;
        const wrong = profile.strips.flatMap((strip) =>
          Object.keys(held[strip] ?? {}).filter((section) => {
            const mustStay = onlySafe[strip]?.[section] === 'safe';
            const askedFor = scope.some((r) => r.take && r.strips.some((s) => s.startsWith('desk')));
            const slipped = strip === 'desk.1' && free[strip]?.[section] === 'comes back' && !askedFor;
            return (held[strip]?.[section] === 'safe') !== mustStay || slipped;
          }),
        );
        expect(wrong).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });

  test('what is picked on the screen is what the rules take', () => {
    const picks = fc.record({
      sections: fc.subarray(choosableSections(boathouse), { minLength: 1 }).map((s) => new Set(s)),
      strips: fc.subarray(choosableStrips(boathouse), { minLength: 1 }).map((s) => new Set(s)),
      globals: fc.boolean(),
    });
    fc.assert(
      fc.property(picks, (choice) => {
        const { cells } = compileScope(boathouse, scopeOf(boathouse, choice));
        const wrong = choosableStrips(boathouse).flatMap((strip) =>
          Object.entries(cells[strip] ?? {}).filter(
            ([section, f]) => (f === 'comes back') !== (choice.strips.has(strip) && choice.sections.has(section)),
          ),
        );
        expect(wrong).toEqual([]);
      }),
    );
    expect(scopeOf(boathouse, choiceOf(boathouse, EVERYTHING))).toEqual(EVERYTHING);
  });
});

describe('holding a strip safe', () => {
  const heldStrips = (safes: Safes) => safeStrips(compileScope(quay, [], safes));

  test.each([
    ['nothing is safe', []],
    ['it is in a rule with others', [{ strips: ['in.3', 'in.4'], sections: ['*'] }]],
    ['its whole family is', [{ strips: ['in'], sections: ['*'] }]],
    ['everything is', [{ strips: ['*'], sections: ['*'] }]],
  ])('held and let go, it alone changes: %s', (_, safes) => {
    const before = heldStrips(safes);
    const others = (strips: readonly string[]) => strips.filter((strip) => strip !== 'in.3');
    const [held, free] = [
      heldStrips(holdStrip(quay, safes, 'in.3', true)),
      heldStrips(holdStrip(quay, safes, 'in.3', false)),
    ];
    expect(held).toContain('in.3');
    expect(free).not.toContain('in.3');
    expect([others(held), free]).toEqual([others(before), others(before)]);
  });

  test('safe cells and settings of the strip stay safe', () => {
    const safes: Safes = [
      { strips: ['in.3'], sections: ['fader'] },
      { strips: ['in'], sections: ['*'], settings: ['pan/position'] },
    ];
    expect(holdStrip(quay, safes, 'in.3', false)).toEqual(safes);
  });
});

describe('the plain sentence', () => {
  const say = (scope: Scope, safes: Safes = []) => plainText(scopeSentence(quay, compileScope(quay, scope, safes)));
  const thirtyOne = Array.from({ length: 31 }, (_, i) => `in.${i + 1}`);

  test.each([
    [EVERYTHING, [], 'Everything on 98 strips comes back.'],
    [[], [], 'Nothing comes back. 98 strips stay as they are.'],
    [
      [take(thirtyOne, ['gate', 'eq', 'compressor', 'sends', 'pan', 'fader', 'mute'])],
      [],
      'Seven sections on 31 strips come back. 67 strips stay as they are.',
    ],
    [
      [take(['in.1'], ['eq'])],
      [{ strips: ['main', 'in.48'], sections: ['*'] }],
      'EQ on 1 strip comes back. 97 strips stay as they are; 3 are safe.',
    ],
    [
      [take(['in.1', 'in.2'], ['eq', 'pan'])],
      [{ strips: ['in.2'], sections: ['pan'] }],
      'Parts of 2 sections on 2 strips come back. 96 strips stay as they are.',
    ],
    [[take(['desk'], ['*'])], [], 'Only the globals come back. 98 strips stay as they are.'],
    [[...EVERYTHING, take(['desk'], ['*'])], [], 'Everything on 98 strips comes back, and the globals too.'],
  ] as const)('%# says so', (scope, safes, sentence) => {
    expect(say(scope as unknown as Scope, safes as unknown as Safes)).toBe(sentence);
  });
});
