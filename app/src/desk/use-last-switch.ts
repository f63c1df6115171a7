import { skipToken } from '@reduxjs/toolkit/query';
import { useEffect } from 'react';

import { compare } from '@old-echo/core/compare/compare';
import { readAddress } from '@old-echo/core/desk/address';
import type { Profile } from '@old-echo/core/desk/profile';
import { withSettings } from '@old-echo/core/desk/state';
import { describeSwitch } from '@old-echo/core/phrases/describe-switch';

import { echoOver, switched } from '../store/last-switch-slice';
import { useJournalQuery } from '../store/recall-api';
import { useAppDispatch, useAppSelector, useAppStore } from '../store/store';

/** For so long strips show where they were before a switch. */
const ECHO_MS = 2000;

/** Works out what each restore of the followed desk changed, once it has ended; whoever began it, and wherever. */
export function useLastSwitch(profile: Profile): void {
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const restore = useAppSelector((root) => root.live.restore);
  const { restoreId, before } = useAppSelector((root) => root.lastSwitch);
  const hasSwitched = restore && ['confirmed', 'incomplete'].includes(restore.status) && restore.changes > 0;
  const journal = useJournalQuery(hasSwitched && restore.id !== restoreId ? restore.id : skipToken).currentData;
  useEffect(() => {
    const { state, restore: ended } = store.getState().live;
    if (!journal || !state || !ended) return;
    const failed = new Set(ended.report?.unconfirmed.map(({ address }) => address));
    const changes = journal.changes.filter(({ address }) => !failed.has(address));
    const from = withSettings(state, Object.fromEntries(changes.map((change) => [change.address, change.from])));
    const strips = new Set(changes.flatMap(({ address }) => readAddress(address)?.strip ?? []));
    const line = describeSwitch(profile, state, compare(profile, from, state));
    const moved = Object.fromEntries([...strips].flatMap((strip) => (from[strip] ? [[strip, from[strip]]] : [])));
    dispatch(switched({ restoreId: ended.id, line, before: moved }));
  }, [journal, profile, store, dispatch]);
  useEffect(() => {
    if (Object.keys(before).length === 0) return;
    const timer = setTimeout(() => dispatch(echoOver()), ECHO_MS);
    return () => clearTimeout(timer);
  }, [before, dispatch]);
}
