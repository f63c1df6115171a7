import { useState } from 'react';
import { skipToken } from '@reduxjs/toolkit/query';

import { plural } from '@old-echo/core/desk/format-value';

import { faultOf, useStorageQuery } from '../store/api';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { Words } from '../ui/app-text';

const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;

/** What is stored, and on request whether all of it is whole. */
export function StorageCard() {
  const [asked, setAsked] = useState(false);
  const { data, error, isFetching, refetch } = useStorageQuery(asked ? undefined : skipToken);
  const whole = data && data.orphans + data.incomplete.length + data.spoiled === 0;
  return (
    <>
      <Words kind="heading">What is stored</Words>
      <Card edge={data ? (whole ? 'done' : 'stop') : undefined}>
        {error ? (
          <Words tone="stop">{faultOf(error).message}</Words>
        ) : data ? (
          <>
            <Words kind="strong" role="status">
              {whole ? 'Everything is whole: nothing left over, nothing missing.' : 'Something is not whole.'}
            </Words>
            <Words tone="second">
              {plural(data.scenes, 'scene')} of {plural(data.stripStates, 'different strip state')},{' '}
              {megabytes(data.bytes)}.
            </Words>
            {data.incomplete.length > 0 ? (
              <Words tone="stop">Scenes with strips missing: {data.incomplete.join(', ')}.</Words>
            ) : null}
            {data.spoiled > 0 ? <Words tone="stop">{plural(data.spoiled, 'strip state')} cannot be read.</Words> : null}
            {data.orphans > 0 ? (
              <Words tone="care">{plural(data.orphans, 'strip state')} belong to no scene.</Words>
            ) : null}
          </>
        ) : (
          <Words tone="second">Every strip of every scene is read and compared with its fingerprint.</Words>
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
