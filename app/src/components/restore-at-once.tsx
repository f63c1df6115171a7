import { skipToken } from '@reduxjs/toolkit/query';
import { type Href, useRouter } from 'expo-router';
import { createContext, type ReactNode, use, useCallback, useEffect, useRef, useState } from 'react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { Recall, RestoreView } from '@old-echo/core/contracts/restore';
import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import { countConfirmed } from '@old-echo/core/phrases/describe-confirmation';

import { type ApiFault, faultLine, toApiFault } from '../store/api';
import { deskHref } from '../store/desk-address';
import { noticed } from '../store/notice-slice';
import { useRestoreQuery, useStartRestoreMutation } from '../store/recall-api';
import { useAppDispatch, useAppSelector } from '../store/store';
import { useMayAsk } from '../ui/allowed';
import { previewHref } from './links/recall-link';

export interface AtOnce {
  /** Its preview, where it is looked at first; asked for when that opens, since what is on its way may change it until then. */
  readonly href: Href | (() => Href);
  readonly begin: () => PromiseLike<{ readonly data?: RestoreView | undefined; readonly error?: unknown }>;
  /** What is said once it is confirmed, of the scene: "12 Chorus restored". */
  readonly said: (title: string) => string;
  /** Takes what is said, where that is not said at the foot of the screen. */
  readonly tell?: ((words: string) => void) | undefined;
  /** Called once it is on its way. */
  readonly onBegun?: ((restore: RestoreView) => void) | undefined;
  /** Called in the place of opening the preview where something has to be answered first. */
  readonly onStopped?: ((href: Href) => void) | undefined;
  /** Called when it is over, or why it was refused; not where something touched later took its place before it began. */
  readonly onEnd?: ((refusal?: ApiFault) => void) | undefined;
}

type Begin = (what: AtOnce) => void;

/** How often the end of a restore is asked for that nobody told of. */
const POLL_MS = 2000;

const Context = createContext<Begin | undefined>(undefined);

/**
 * What is restored at a touch from any screen, one after the other: what is touched while another is on its way follows when that has
 * ended; of several, the last. It is seen to its end whichever screen is open by then.
 */
export function TouchRestores({ children }: { readonly children: ReactNode }) {
  const router = useRouter();
  const dispatch = useAppDispatch();
  const last = useAppSelector((root) => root.live.restore);
  const [waiting, setWaiting] = useState<(Pick<AtOnce, 'said' | 'tell' | 'onEnd'> & { readonly id: string }) | null>(
    null,
  );
  const isAsking = useRef(false);
  const next = useRef<AtOnce | null>(null);
  const told = useRef<string | null>(null);
  // Asked for as well: its end may have come while the page did not hear the server, or followed another desk.
  const [over, setOver] = useState<string | null>(null);
  const pollingInterval = waiting?.id === over ? 0 : POLL_MS;
  const { data: read, error } = useRestoreQuery(waiting?.id ?? skipToken, { pollingInterval });
  const isGone = error !== undefined && toApiFault(error).code === 'not-found';
  const ended = [last, read].find((one) => one?.id === waiting?.id && one?.status !== 'running');
  const end = ended?.id ?? (isGone ? waiting?.id : undefined);
  if (end !== undefined && end !== over) setOver(end);
  const say = ({ tell }: Pick<AtOnce, 'tell'>, words: string) => {
    if (tell) tell(words);
    else dispatch(noticed(words));
  };
  const follows = () => {
    const following = next.current;
    next.current = null;
    return following;
  };
  const begin = (what: AtOnce) => {
    isAsking.current = true;
    void Promise.resolve(what.begin()).then(({ data, error }) => {
      if (data) {
        what.onBegun?.(data);
        return setWaiting({ id: data.id, said: what.said, tell: what.tell, onEnd: what.onEnd });
      }
      isAsking.current = false;
      what.onEnd?.(toApiFault(error));
      const following = follows();
      if (following) return begin(following);
      say(what, faultLine(error));
      if (toApiFault(error).code !== 'unanswered') return;
      if (what.onStopped) what.onStopped(previewOf(what));
      else router.navigate(previewOf(what));
    });
  };
  useEffect(() => {
    // Removed together with its desk: nobody will hear of its end.
    if (isGone) isAsking.current = false;
    if (!waiting || end === undefined || told.current === end) return;
    told.current = end;
    waiting.onEnd?.();
    if (!ended) return;
    isAsking.current = false;
    const following = follows();
    if (ended.status !== 'confirmed') return router.navigate(deskHref(ended.deskId, `restores/${ended.id}`));
    if (following) return begin(following);
    const took = ended.report ? ` in ${ended.report.milliseconds} ms` : '';
    const title = sceneTitle({ number: ended.sceneNumber, name: ended.sceneName });
    const words = `${waiting.said(title)}. ${countConfirmed(ended)}${took}.`;
    say(waiting, words);
  });
  const [touched] = useState(() => (what: AtOnce) => {
    if (isAsking.current) next.current = what;
    else begin(what);
  });
  return <Context value={touched}>{children}</Context>;
}

const previewOf = ({ href }: AtOnce): Href => (typeof href === 'function' ? href() : href);

/** Whether a touch restores without a preview: in the studio, on a desk that answers. */
export const restoresAtOnce = (desk: DeskView | null | undefined): boolean =>
  desk?.mode === 'studio' && desk.link.state === 'linked';

/**
 * Restores without a preview where that is allowed, and says so once it is confirmed. Elsewhere, and where something has to be
 * answered, the preview opens instead.
 * @returns begins one, and says whether it did without a preview
 */
export function useRestoreAtOnce(desk: DeskView | undefined): (what: AtOnce) => boolean {
  const router = useRouter();
  const begin = use(Context);
  const mayAsk = useMayAsk();
  const isAtOnce = restoresAtOnce(desk) && mayAsk(DESK_RECALL_ROUTES.startRestore);
  return useCallback(
    (what) => {
      if (isAtOnce) begin?.(what);
      else router.navigate(previewOf(what));
      return isAtOnce;
    },
    [isAtOnce, begin, router],
  );
}

/**
 * {@link useRestoreAtOnce} for a recall as a screen puts it together.
 * @returns takes what is different of it: its preview, where that is at an address of its own, and what is said or done at its end
 */
export function useTouchRecall(
  desk: DeskView | undefined,
): (recall: Recall, more?: Partial<Omit<AtOnce, 'begin'>>) => boolean {
  const atOnce = useRestoreAtOnce(desk);
  const by = useAppSelector((root) => root.place.who);
  const [start] = useStartRestoreMutation();
  return useCallback(
    (recall, more) =>
      atOnce({
        href: previewHref(recall),
        said: (title) => `${title} restored`,
        ...more,
        begin: () =>
          start({
            desk: recall.deskId,
            request: { recall, fingerprint: null, fade: 0, curve: 'even', answers: [], by },
          }),
      }),
    [atOnce, start, by],
  );
}
