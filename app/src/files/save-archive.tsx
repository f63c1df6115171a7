import { useState } from 'react';

import type { FileNode } from '@old-echo/core/contracts/file-transfer';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { EXPORT_ROUTES } from '@old-echo/core/contracts/routes/file-routes';

import { CheckRow } from '../components/check-row';
import { LoadError, Loading } from '../components/loading';
import { toApiFault } from '../store/api';
import { addressOf } from '../store/ask';
import { useArchiveContentsQuery } from '../store/files-api';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Card } from '../ui/layout';
import { archiveQuery } from './archive-query';
import { FileTree, leaves } from './file-tree';
import { StripList } from './input-list';

/** Chooses what of a production goes into its archive; all of it is the complete backup. */
export function SaveArchive({ production }: { readonly production: ProductionView }) {
  const { data: contents, error, refetch } = useArchiveContentsQuery(production.id);
  return (
    <Card>
      <AppText kind="heading">An archive of {production.name}</AppText>
      {error ? (
        <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />
      ) : contents ? (
        <Contents production={production} contents={contents} />
      ) : (
        <Loading what="Loading what it holds" />
      )}
      <StripList production={production} />
    </Card>
  );
}

interface ContentsProps {
  readonly production: ProductionView;
  readonly contents: readonly FileNode[];
}

function Contents({ production, contents }: ContentsProps) {
  const all = leaves(contents).map(({ id }) => id);
  // Sound is large, and mostly there already where a song goes.
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set(['sound']));
  const [autosaves, setAutosaves] = useState(false);
  const taken = new Set(all.filter((id) => !left.has(id)));
  const isTaken = (id: string) => [...taken].some((one) => one.startsWith(id));
  const why = !all.some((id) => taken.has(id) && !id.startsWith('sections/'))
    ? 'Choose what goes into it first.'
    : isTaken('versions/') && !isTaken('sections/')
      ? 'Choose a section of its scenes, or no version.'
      : false;
  const save = () => {
    const query = { ...archiveQuery(contents, taken), autosaves };
    window.location.assign(addressOf(EXPORT_ROUTES.exportProduction, { params: { id: production.id }, query }));
  };
  return (
    <>
      <FileTree
        branches={contents}
        taken={taken}
        onTaken={(next) => setLeft(new Set(all.filter((id) => !next.has(id))))}
      />
      <CheckRow
        name="Autosaved scenes"
        under="Way backs and idle saves of its versions"
        tick={autosaves ? 'all' : 'none'}
        testID="save-autosaves"
        onPress={() => setAutosaves(!autosaves)}
      />
      <Action
        asks={EXPORT_ROUTES.exportProduction}
        kind="main"
        title="Save the archive"
        disabled={why}
        onPress={save}
      />
    </>
  );
}
