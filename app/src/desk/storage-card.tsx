import { skipToken } from '@reduxjs/toolkit/query';
import { useState } from 'react';

import { plural } from '@old-echo/core/phrases/format-value';

import { toApiFault } from '../store/api';
import { useStorageCheckQuery } from '../store/desk-api';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';

const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;

/** Storage, and on request whether all of it is whole. */
export function StorageCard() {
  const [asked, setAsked] = useState(false);
  const { data, error, isFetching, refetch } = useStorageCheckQuery(asked ? undefined : skipToken);
  const whole = data && data.orphans + data.incomplete.length + data.spoiled === 0;
  return (
    <>
      <AppText kind="heading">Storage</AppText>
      <Card edge={data ? (whole ? 'done' : 'stop') : undefined}>
        {error ? (
          <AppText tone="stop">{toApiFault(error).message}</AppText>
        ) : data ? (
          <>
            <AppText kind="strong" role="status">
              {whole ? 'All scenes are complete.' : 'Some data is damaged or missing.'}
            </AppText>
            <AppText tone="second">
              {plural(data.scenes, 'scene')} of {plural(data.stripStates, 'stored strip state')},{' '}
              {megabytes(data.bytes)}.
            </AppText>
            {data.incomplete.length > 0 ? (
              <AppText tone="stop">Scenes with strips missing: {data.incomplete.join(', ')}.</AppText>
            ) : null}
            {data.spoiled > 0 ? (
              <AppText tone="stop">{plural(data.spoiled, 'strip state')} cannot be read.</AppText>
            ) : null}
            {data.orphans > 0 ? (
              <AppText tone="care">{plural(data.orphans, 'strip state')} not used by any scene.</AppText>
            ) : null}
          </>
        ) : (
          <AppText tone="second">Reads every strip of every scene and compares it with its fingerprint.</AppText>
        )}
        <Action
          kind="quiet"
          title={data ? 'Check again' : 'Check storage'}
          busy={isFetching}
          onPress={() => (asked ? void refetch() : setAsked(true))}
        />
      </Card>
    </>
  );
}
