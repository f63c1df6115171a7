import { defaultState, withSettings } from '@old-echo/core/desk/state';
import { quay } from '@old-echo/testing/profiles';

import { stripColourName } from '../../src/components/strip-colour-name';

const now = withSettings(defaultState(quay), { 'in.1/label/colour': 'foam' });

test.each([
  ['as it was given', 'in.1', 'foam'],
  ['none where nobody gave it one: what every strip has tells nothing apart', 'in.2', null],
  ['nothing at all where its strips have no colours', 'desk.1', undefined],
])('the colour of a strip is %s', (_, strip, colour) => expect(stripColourName(quay, strip, now[strip])).toBe(colour));
