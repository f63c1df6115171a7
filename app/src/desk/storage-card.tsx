import { useState } from 'react';
import { skipToken } from '@reduxjs/toolkit/query';

import { plural } from '@old-echo/core/desk/format-value';

import { toApiFault, useStorageQuery } from '../store/api';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { AppText } from '../ui/app-text';

const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;

/** What is stored, and on request whether all of it is whole. */
export function StorageCard() {
  const [asked, setAsked] = useState(false);
  const { data, error, isFetching, refetch } = useStorageQuery(asked ? undefined : skipToken);
  const whole = data && data.orphans + data.incomplete.length + data.spoiled === 0;
  return (
    <>
      <AppText kind="heading">What is stored</AppText>
      <Card edge={data ? (whole ? 'done' : 'stop') : undefined}>
        {error ? (
          <AppText tone="stop">{toApiFault(error).message}</AppText>
        ) : data ? (
          <>
            <AppText kind="strong" role="status">
              {whole ? 'Everything is whole: nothing left over, nothing missing.' : 'Something is not whole.'}
            </AppText>
            <AppText tone="second">
              {plural(data.scenes, 'scene')} of {plural(data.stripStates, 'different strip state')},{' '}
              {megabytes(data.bytes)}.
            </AppText>
            {data.incomplete.length > 0 ? (
              <AppText tone="stop">Scenes with strips missing: {data.incomplete.join(', ')}.</AppText>
            ) : null}
            {data.spoiled > 0 ? (
              <AppText tone="stop">{plural(data.spoiled, 'strip state')} cannot be read.</AppText>
            ) : null}
            {data.orphans > 0 ? (
              <AppText tone="care">{plural(data.orphans, 'strip state')} belong to no scene.</AppText>
            ) : null}
          </>
        ) : (
          <AppText tone="second">Every strip of every scene is read and compared with its fingerprint.</AppText>
        )}
        <Action
          kind="quiet"
          title={data ? 'Check again' : 'Check it'}
          busy={isFetching}
          onPress={() => (asked ? void refetch() : setAsked(true))}
        />
      </Card>
    </>
  );
}
