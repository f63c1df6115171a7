import { act, configure, render } from '@testing-library/react';
import type { ReactNode } from 'react';
import { PaperProvider } from 'react-native-paper';
import { Provider } from 'react-redux';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { ProductionView, VersionView } from '@old-echo/core/contracts/production';
import type { SceneView } from '@old-echo/core/contracts/scene';
import type { State } from '@old-echo/core/desk/state';
import { DEFAULT_THRESHOLDS } from '@old-echo/core/signal/thresholds';

import { TouchRestores } from '../src/components/restore-at-once';
import { followed, lost, told } from '../src/store/live-slice';
import { store } from '../src/store/store';
import { dayTheme } from '../src/ui/theme';

// A machine that is busy with other tests may take its time; what can be reached is looked at in the browser.
configure({ asyncUtilTimeout: 10_000, defaultHidden: true });

// Names and roles do not depend on the style sheet, and working it out takes longer than all else.
const plain = document.createElement('div').style;
window.getComputedStyle = () => plain;

/** What is around every part of the app: its store, its theme, and what is restored at a touch. */
export const InApp = ({ children }: { readonly children: ReactNode }) => (
  <Provider store={store}>
    <PaperProvider theme={dayTheme} settings={{ icon: () => null }}>
      <TouchRestores>{children}</TouchRestores>
    </PaperProvider>
  </Provider>
);

/** Shows part of the app as it stands in the app. */
export const show = (children: ReactNode) => render(children, { wrapper: InApp });

export const DESK: DeskView = {
  id: '01DESK00000000000000000000',
  name: 'Quay 48',
  profileId: 'quay-48',
  address: '127.0.0.1:9000',
  removedAt: null,
  mode: 'studio',
  safes: [],
  thresholds: DEFAULT_THRESHOLDS,
  showLock: false,
  hasPin: false,
  handHolds: 'control',
  link: { state: 'linked', why: '' },
  heardAt: '2026-11-25T20:00:00.000Z',
  baseline: null,
  scene: null,
  worksOn: null,
  atHand: [],
  swap: null,
  lastRestoreId: null,
};

export const SCENE: SceneView = {
  id: '01SCENE0000000000000000000',
  productionId: '01PROD00000000000000000000',
  versionId: '01VERS00000000000000000000',
  number: 14,
  place: 14,
  name: 'Static balance',
  note: '',
  milestone: '',
  tags: [],
  protected: false,
  partial: false,
  kind: 'scene',
  parents: [],
  parentNumber: null,
  joins: [],
  scope: null,
  changed: { settings: 0, strips: 0 },
  madeAt: '2026-11-25T19:00:00.000Z',
  by: '',
  binnedAt: null,
  revision: 1,
};

const VERSION: VersionView = {
  id: SCENE.versionId,
  name: 'Main version',
  note: '',
  status: 'working',
  fromSceneId: null,
  fromPlace: null,
  followsId: null,
  newestSceneId: SCENE.id,
  places: { oldest: 1, newest: 14 },
  scenes: 14,
  binnedAt: null,
  revision: 1,
};

export const PRODUCTION: ProductionView = {
  id: SCENE.productionId,
  name: 'Night Ferry',
  kind: 'show',
  note: '',
  deskId: DESK.id,
  versions: [VERSION],
  binnedVersions: [],
  binned: 0,
  tags: [],
  binnedAt: null,
  revision: 1,
};

/** Whether a button cannot be pressed, however it says so. */
export const isOff = (button: HTMLElement) => button.matches('[disabled], [aria-disabled=true]');

/** Lets the page follow a desk that holds a state. */
export function follow(desk: DeskView, state: State): void {
  act(() => {
    store.dispatch(followed(desk.id));
    store.dispatch(told({ type: 'desk', desk }));
    store.dispatch(told({ type: 'full-state', state }));
  });
}

/** The server tells something new of the desk. */
export const tell = (message: Parameters<typeof told>[0]): void => act(() => void store.dispatch(told(message)));

/** The server is not heard any more. */
export const fallSilent = (): void => act(() => void store.dispatch(lost()));
