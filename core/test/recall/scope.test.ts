import fc from 'fast-check';

import { boathouse, PROFILES, quay } from '@old-echo/testing/profiles';
import { anyState } from '@old-echo/testing/random-state';

import { stripFamily } from '../../src/desk/profile';
import { defaultState, type State } from '../../src/desk/state';
import { describeScope, partWords, sentenceOfScene } from '../../src/phrases/describe-scope';
import { plainText } from '../../src/phrases/phrase';
import { compileScope, decisionFor, safeStrips } from '../../src/recall/compile-scope';
import {
  holdFamily,
  holdOutput,
  holdSection,
  isFamilySafe,
  isOutputSafe,
  isSectionSafe,
} from '../../src/recall/edit-many-safes';
import { type SafeTarget, setSafe } from '../../src/recall/edit-safes';
import { preview } from '../../src/recall/preview';
import { ALL_EXCEPT_GLOBALS, ALL_WITH_GLOBALS, type Safes, type Scope } from '../../src/recall/scope-rules';
import {
  choosableSections,
  choosableStrips,
  EMPTY_SELECTION,
  globalSections,
  pickSections,
  pickSettings,
  pickStrips,
  scopeToSelection,
  selectionToScope,
  setCells,
} from '../../src/recall/scope-selection';

const include = (strips: string[], sections: string[]) => ({ strips, sections, include: true });
const leave = (strips: string[], sections: string[]) => ({ strips, sections, include: false });
const fate = (scope: Scope, safes: Safes, strip: string, section: string) =>
  compileScope(quay, scope, safes).cells[strip]?.[section];

describe('scope', () => {
  test.each([
    ['what no rule names stays', [], [], 'in.1', 'eq', 'out of scope'],
    ['a rule takes a strip', [include(['in.1'], ['eq'])], [], 'in.1', 'eq', 'comes back'],
    ['a rule takes a family', [include(['in'], ['eq'])], [], 'in.48', 'eq', 'comes back'],
    [
      'the last rule that matches wins',
      [include(['in'], ['*']), leave(['in.3'], ['eq'])],
      [],
      'in.3',
      'eq',
      'out of scope',
    ],
    ['an earlier rule does not', [leave(['in.3'], ['eq']), include(['in'], ['*'])], [], 'in.3', 'eq', 'comes back'],
    [
      'a safe strip stays although the scope names it',
      [include(['in.3'], ['eq'])],
      [{ strips: ['in.3'], sections: ['*'] }],
      'in.3',
      'eq',
      'safe',
    ],
    [
      'a safe cell leaves the strip’s other cells',
      [include(['in.3'], ['*'])],
      [{ strips: ['in.3'], sections: ['fader'] }],
      'in.3',
      'eq',
      'comes back',
    ],
    ['globals do not come back by themselves', ALL_EXCEPT_GLOBALS, [], 'desk.1', 'clock', 'global'],
    [
      'globals come back when asked for by name',
      [...ALL_EXCEPT_GLOBALS, include(['desk'], ['*'])],
      [],
      'desk.1',
      'clock',
      'comes back',
    ],
  ] as const)('%s', (_, scope, safes, strip, section, expected) => {
    expect(fate(scope as unknown as Scope, safes as unknown as Safes, strip, section)).toBe(expected);
  });

  test('a single setting can be safe inside a section that comes back', () => {
    const { cells, settings } = compileScope(quay, ALL_EXCEPT_GLOBALS, [
      { strips: ['in'], sections: ['*'], settings: ['sends/mix.3/level'] },
    ]);
    expect(cells['in.1']?.['sends']).toBe('comes back');
    expect(settings.get('in.1/sends/mix.3/level')).toBe('safe');
    expect(settings.size).toBe(48);
  });

  test.each<[string, Scope, Safes, string]>([
    [
      'a rule about one setting takes it out of a cell that stays',
      [{ ...include(['in.3'], ['sends']), settings: ['sends/mix.3/level'] }],
      [],
      'comes back',
    ],
    [
      'a rule about one setting leaves it in a cell that comes back',
      [include(['in'], ['*']), { ...leave(['in.3'], ['sends']), settings: ['sends/mix.3/level'] }],
      [],
      'out of scope',
    ],
    [
      'a later rule about the cell has the last word',
      [{ ...include(['in.3'], ['sends']), settings: ['sends/mix.3/level'] }, leave(['in'], ['sends'])],
      [],
      'out of scope',
    ],
    [
      'a safe setting stays whatever rules say of it',
      [{ ...include(['in.3'], ['sends']), settings: ['sends/mix.3/level'] }],
      [{ strips: ['in'], sections: ['*'], settings: ['sends/mix.3/level'] }],
      'safe',
    ],
    [
      'a safe cell holds its settings',
      [{ ...include(['in.3'], ['sends']), settings: ['sends/mix.3/level'] }],
      [{ strips: ['in.3'], sections: ['sends'] }],
      'safe',
    ],
  ])('%s', (_, scope, safes, expected) => {
    const compiled = compileScope(quay, scope, safes);
    expect(decisionFor(compiled, 'in.3', 'sends/mix.3/level')).toBe(expected);
    expect(decisionFor(compiled, 'in.4', 'sends/mix.4/level')).toBe(
      scope.some((r) => r.include && r.sections.includes('*')) ? 'comes back' : 'out of scope',
    );
  });

  test.each(PROFILES)('on %s no safe cell ever comes back, whatever the rules', (_, profile) => {
    const strips = fc.subarray(['*', 'in', 'fx', 'main', 'desk', ...profile.strips], { maxLength: 6 });
    const sections = fc.subarray(['*', ...choosableSections(profile)], { maxLength: 6 });
    const rules = fc.array(fc.record({ strips, sections, include: fc.boolean() }), { maxLength: 6 });
    const safes = fc.array(fc.record({ strips, sections }), { maxLength: 3 });
    fc.assert(
      fc.property(rules, safes, (scope, safe) => {
        const free = compileScope(profile, scope).cells;
        const held = compileScope(profile, ALL_EXCEPT_GLOBALS.concat(scope), safe).cells;
        const onlySafe = compileScope(profile, [], safe).cells;
        const wrong = profile.strips.flatMap((strip) =>
          Object.keys(held[strip] ?? {}).filter((section) => {
            const mustStay = onlySafe[strip]?.[section] === 'safe';
            const askedFor = scope.some((r) => r.include && r.strips.some((s) => s.startsWith('desk')));
            const slipped = strip === 'desk.1' && free[strip]?.[section] === 'comes back' && !askedFor;
            return (held[strip]?.[section] === 'safe') !== mustStay || slipped;
          }),
        );
        expect(wrong).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });

  test('what is picked on the screen is what the rules include', () => {
    const picks = fc.record({
      sections: fc.subarray(choosableSections(boathouse), { minLength: 1 }).map((s) => new Set(s)),
      strips: fc.subarray(choosableStrips(boathouse), { minLength: 1 }).map((s) => new Set(s)),
      globals: fc.subarray([...globalSections(quay)]).map((sections) => new Set(sections)),
      left: fc.constant(new Set<string>()),
      settings: fc.constant(new Map<string, boolean>()),
    });
    fc.assert(
      fc.property(picks, (choice) => {
        const { cells } = compileScope(boathouse, selectionToScope(boathouse, choice));
        const wrong = choosableStrips(boathouse).flatMap((strip) =>
          Object.entries(cells[strip] ?? {}).filter(
            ([section, f]) => (f === 'comes back') !== (choice.strips.has(strip) && choice.sections.has(section)),
          ),
        );
        expect(wrong).toEqual([]);
      }),
    );
    expect(selectionToScope(boathouse, scopeToSelection(boathouse, ALL_EXCEPT_GLOBALS))).toEqual(ALL_EXCEPT_GLOBALS);
  });
});

describe('picking', () => {
  const cells = choosableStrips(quay).flatMap((strip) =>
    (stripFamily(quay, strip)?.sections ?? []).map((section) => [strip, section] as const),
  );
  const strokes = fc.array(
    fc.record({ cells: fc.subarray([...cells], { minLength: 1, maxLength: 8 }), include: fc.boolean() }),
    { maxLength: 6 },
  );

  test('what is painted is exactly what comes back, through rules and back again', () => {
    fc.assert(
      fc.property(strokes, (all) => {
        let choice = EMPTY_SELECTION;
        const wanted = new Set<string>();
        for (const stroke of all)
          for (const [strip, section] of stroke.cells) {
            choice = setCells(quay, choice, [strip], [section], stroke.include);
            if (stroke.include) wanted.add(`${strip}/${section}`);
            else wanted.delete(`${strip}/${section}`);
          }
        const scope = selectionToScope(quay, choice);
        const compiled = compileScope(quay, scope);
        const coming = cells
          .filter(([strip, section]) => compiled.cells[strip]?.[section] === 'comes back')
          .map((cell) => cell.join('/'));
        expect(coming.sort()).toEqual([...wanted].sort());
        expect(compileScope(quay, selectionToScope(quay, scopeToSelection(quay, scope)))).toEqual(compiled);
      }),
      { numRuns: 60 },
    );
  });

  test('single settings survive the way through rules, and go when their cell is painted', () => {
    const mix3 = choosableStrips(quay)
      .filter((strip) => strip.startsWith('in.'))
      .map((strip) => `${strip}/sends/mix.3/level`);
    const one = pickSettings(EMPTY_SELECTION, mix3, true);
    expect(selectionToScope(quay, one)).toEqual([
      { strips: ['in'], sections: ['sends'], settings: ['sends/mix.3/level'], include: true },
    ]);
    expect(scopeToSelection(quay, selectionToScope(quay, one)).settings).toEqual(one.settings);
    expect(setCells(quay, one, ['in.1'], ['sends'], true).settings.size).toBe(47);
    // A setting that does as its cell does is no exception.
    expect(pickSettings(one, mix3, false).settings.size).toBe(0);
  });

  test('picking a section again forgets what was left out of it', () => {
    const all = scopeToSelection(quay, ALL_EXCEPT_GLOBALS);
    const without = setCells(quay, all, ['in.3'], ['eq'], false);
    expect([...without.left]).toEqual(['in.3/eq']);
    expect(pickSections(without, ['eq'], true).left.size).toBe(0);
    expect(pickStrips(without, ['in.3'], true).left.size).toBe(0);
  });
});

describe('holding a cell or a setting safe', () => {
  const heldCells = (safes: Safes) => {
    const { cells, settings } = compileScope(quay, [], safes);
    const all = quay.families.flatMap((f) => f.strips.flatMap((strip) => f.keys.map((key) => [strip, key] as const)));
    return new Set(
      all.filter(([strip, key]) => decisionFor({ cells, settings }, strip, key) === 'safe').map((at) => at.join('/')),
    );
  };
  const rules = fc.array(
    fc.record(
      {
        strips: fc.subarray(['*', 'in', 'mix', 'in.3', 'in.4'], { minLength: 1 }),
        sections: fc.subarray(['*', 'eq', 'sends'], { minLength: 1 }),
        settings: fc.constant(['sends/mix.3/level', 'eq/on']),
      },
      { requiredKeys: ['strips', 'sections'] },
    ),
    { maxLength: 3 },
  ) as fc.Arbitrary<Safes>;

  test.each<[string, SafeTarget, (address: string) => boolean]>([
    ['a cell', { strip: 'in.3', section: 'sends' }, (a) => a.startsWith('in.3/sends/')],
    ['a setting', { strip: 'in.3', key: 'sends/mix.3/level' }, (a) => a === 'in.3/sends/mix.3/level'],
    ['a strip', { strip: 'in.3' }, (a) => a.startsWith('in.3/')],
  ])('%s is held and let go, and nothing else changes', (_, at, mine) => {
    fc.assert(
      fc.property(rules, (safes) => {
        const before = heldCells(safes);
        const [on, off] = [heldCells(setSafe(quay, safes, at, true)), heldCells(setSafe(quay, safes, at, false))];
        const others = (set: ReadonlySet<string>) => [...set].filter((address) => !mine(address));
        expect([others(on), others(off)]).toEqual([others(before), others(before)]);
        expect([...heldCells(setSafe(quay, [], at, true))].every((address) => on.has(address))).toBe(true);
        // Letting go of a whole leaves what was held by itself inside it.
        const narrower = heldCells(
          safes.filter((safe) =>
            safe.settings
              ? at.key === undefined
              : at.strip === 'in.3' && !at.section && !at.key && !safe.sections.includes('*'),
          ),
        );
        for (const address of off) if (mine(address)) expect(narrower.has(address)).toBe(true);
      }),
      { numRuns: 25 },
    );
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
      heldStrips(setSafe(quay, safes, { strip: 'in.3' }, true)),
      heldStrips(setSafe(quay, safes, { strip: 'in.3' }, false)),
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
    expect(setSafe(quay, safes, { strip: 'in.3' }, false)).toEqual(safes);
  });
});

describe('the plain sentence', () => {
  const say = (scope: Scope, safes: Safes = []) => plainText(describeScope(quay, compileScope(quay, scope, safes)));
  const thirtyOne = Array.from({ length: 31 }, (_, i) => `in.${i + 1}`);

  test.each([
    [ALL_EXCEPT_GLOBALS, [], 'Everything on 104 strips comes back.'],
    [[], [], 'Nothing comes back. 104 strips stay as they are.'],
    [
      [include(thirtyOne, ['gate', 'eq', 'compressor', 'sends', 'pan', 'fader', 'mute'])],
      [],
      'Seven sections on 31 strips come back. 73 strips stay as they are.',
    ],
    [
      [include(['in.1'], ['eq'])],
      [{ strips: ['main', 'in.48'], sections: ['*'] }],
      'EQ on 1 strip comes back. 103 strips stay as they are, 3 of them safe.',
    ],
    [
      ALL_EXCEPT_GLOBALS,
      [{ strips: ['*'], sections: ['preamp'] }],
      'Everything but preamps on 104 strips comes back. Preamps are safe.',
    ],
    [
      [include(['in'], ['sends'])],
      [
        { strips: ['*'], sections: ['inserts'] },
        { strips: ['*'], sections: ['eq'] },
      ],
      'Sends on 48 strips come back. 56 strips stay as they are. EQs and inserts are safe.',
    ],
    [
      [include(['in.1'], ['eq'])],
      [{ strips: ['*'], sections: ['*'] }],
      'Nothing comes back. 104 strips stay as they are, all safe.',
    ],
    [
      [include(['in.1', 'in.2'], ['eq', 'pan'])],
      [{ strips: ['in.2'], sections: ['pan'] }],
      'Some settings of two sections on 2 strips come back. 102 strips stay as they are.',
    ],
    [
      [{ ...include(['in'], ['sends']), settings: ['sends/mix.3/level'] }],
      [],
      'Send to Mix 3 on 48 strips comes back. 56 strips stay as they are.',
    ],
    [
      [include(['in.1', 'in.2'], ['eq']), { ...leave(['in.2'], ['eq']), settings: ['eq/on'] }],
      [],
      'EQs on 2 strips come back, except 1 setting. 102 strips stay as they are.',
    ],
    [
      [include(['desk'], ['*'])],
      [],
      'Only monitor, talkback, headphones and clock of the whole desk come back. 104 strips stay as they are.',
    ],
    [[include(['desk'], ['clock'])], [], 'Only clock of the whole desk comes back. 104 strips stay as they are.'],
    [
      [...ALL_EXCEPT_GLOBALS, include(['desk'], ['headphones'])],
      [],
      'Everything on 104 strips comes back, and headphones of the whole desk too.',
    ],
    // What is little is named: what comes back, and what stays.
    [[include(['in.1', 'in.2'], ['sends'])], [], 'Sends on 2 strips come back. 102 strips stay as they are.'],
    [
      [...ALL_EXCEPT_GLOBALS, leave(['*'], ['label', 'view'])],
      [],
      'Everything but labels and views on 104 strips comes back.',
    ],
    [
      [...ALL_EXCEPT_GLOBALS, leave(['in.1', 'main.1'], ['*'])],
      [],
      'Everything on 102 strips comes back. Input 1 and Main L/R stay as they are.',
    ],
  ] as const)('%# says so', (scope, safes, sentence) => {
    expect(say(scope as unknown as Scope, safes as unknown as Safes)).toBe(sentence);
  });
});

describe('what is said of a part of a desk', () => {
  const whole = defaultState(quay);
  const part = (sections: string[], strips: string[]): State =>
    Object.fromEntries(
      strips.map((strip) => [
        strip,
        Object.fromEntries(Object.entries(whole[strip]!).filter(([key]) => sections.includes(key.split('/')[0]!))),
      ]),
    );
  const said = (scene: State, scope: Scope = ALL_EXCEPT_GLOBALS) => plainText(sentenceOfScene(quay, scope, scene));

  test.each([
    [part(['eq'], ['in.1']), 'EQ on 1 strip comes back.', 'EQ on Input 1'],
    [
      part(['eq', 'inserts'], ['in.1', 'in.2']),
      'EQs and inserts on 2 strips come back.',
      'EQs and inserts on Input 1 and Input 2',
    ],
    [
      part(['eq', 'gate', 'compressor', 'sends', 'pan'], ['in.1', 'in.2', 'in.3', 'in.4']),
      'All five sections that it holds on 4 strips come back.',
      'Five sections on 4 strips',
    ],
    [
      part(['headphones', 'fader'], ['in.1', 'desk.1']),
      'Fader on 1 strip comes back.',
      'Faders and headphones on Input 1 and Globals',
    ],
  ])('%#', (scene, comes, holds) => {
    expect(said(scene)).toBe(comes);
    expect(partWords(quay, scene)).toBe(holds);
  });

  test('a strip that lacks a section is not counted for it', () => {
    const scene = { ...part(['eq'], ['in.1', 'in.2']), ...part(['fader'], ['in.3']) };
    const only = (section: string): Scope => [{ strips: ['*'], sections: [section], include: true }];
    expect(said(scene, only('eq'))).toBe('EQs on 2 strips come back. Input 3 stays as it is.');
    expect(said(scene, only('fader'))).toBe('Fader on 1 strip comes back. Input 1 and Input 2 stay as they are.');
    expect(said(scene, only('sends'))).toBe('Nothing comes back. 3 strips stay as they are.');
  });

  test('of a whole desk everything comes back', () => expect(said(whole)).toBe('Everything on 104 strips comes back.'));
});

describe('more than a strip held safe', () => {
  const kept = (safes: Safes, test: (strip: string, key: string) => boolean) =>
    fc.assert(
      fc.property(anyState(quay, 200), anyState(quay, 200), (now, target) => {
        const { changes } = preview({ profile: quay, now, target, scope: ALL_WITH_GLOBALS, safes, mode: 'live' });
        expect(changes.filter(({ strip, key }) => test(strip, key))).toEqual([]);
      }),
      { numRuns: 15 },
    );

  test('an output: neither its strip nor any send into it comes back, whatever comes back', () => {
    kept(holdOutput(quay, [], 'mix.5', true), (strip, key) => strip === 'mix.5' || key.startsWith('sends/mix.5/'));
    kept(
      holdOutput(quay, [], 'matrix.2', true),
      (strip, key) => strip === 'matrix.2' || key.startsWith('sends/matrix.2/'),
    );
  });

  test('a family: none of its strips', () => {
    kept(holdFamily([], 'mix', true), (strip) => strip.startsWith('mix.'));
    kept(holdSection([], 'sends', true), (_, key) => key.startsWith('sends/'));
    expect(isSectionSafe(holdSection([], 'sends', true), 'sends')).toBe(true);
  });

  test('let go of again, the safes are as they were', () => {
    const own: Safes = [{ strips: ['in.1'], sections: ['eq'] }];
    expect(holdOutput(quay, holdOutput(quay, own, 'mix.5', true), 'mix.5', false)).toEqual(own);
    expect(holdFamily(holdFamily(own, 'mix', true), 'mix', false)).toEqual(own);
    expect(holdSection(holdSection(own, 'preamp', true), 'preamp', false)).toEqual(own);
    expect([isOutputSafe(quay, own, 'mix.5'), isFamilySafe(own, 'in')]).toEqual([false, false]);
    expect(isOutputSafe(quay, holdOutput(quay, own, 'mix.5', true), 'mix.5')).toBe(true);
  });
});
