import { useCallback, useRef, useState } from 'react';

import { STEM_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import { MAX_STEM_BYTES, stemTooLargeFault } from '@old-echo/core/contracts/sound';

import { api } from '../store/api';
import { addressOf } from '../store/ask';
import { useAppDispatch } from '../store/store';
import { sendFile } from '../store/upload-file';

export interface Upload {
  readonly strip: string;
  readonly name: string;
  /** 0 … 1. */
  readonly part: number;
  /** What went wrong, in a sentence; empty while it goes well. */
  readonly why: string;
}

/** Sends files to the strips of a production one after the other, with how far each is; each can be cancelled. */
export function useUploads(production: string) {
  const dispatch = useAppDispatch();
  const [uploads, setUploads] = useState<readonly Upload[]>([]);
  const aborts = useRef(new Map<string, () => void>());
  const change = (strip: string, by: Partial<Upload> | null) =>
    setUploads((all) =>
      by ? all.map((one) => (one.strip === strip ? { ...one, ...by } : one)) : all.filter((one) => one.strip !== strip),
    );
  const send = useCallback(
    async (strip: string, file: File) => {
      const { message, advice } = stemTooLargeFault(file.size);
      const why = file.size > MAX_STEM_BYTES ? `${message} ${advice}` : '';
      setUploads((all) => [...all.filter((one) => one.strip !== strip), { strip, name: file.name, part: 0, why }]);
      if (why) return;
      const { ended, abort } = sendFile({
        method: 'PUT',
        url: addressOf(STEM_ROUTES.attachStem, { params: { production, strip }, query: { name: file.name } }),
        type: 'audio/wav',
        file,
        onPart: (part) => change(strip, { part }),
      });
      aborts.current.set(strip, abort);
      const sent = await ended;
      aborts.current.delete(strip);
      change(strip, sent && 'why' in sent ? sent : null);
      if (sent && 'answer' in sent) dispatch(api.util.invalidateTags(['stems']));
    },
    [dispatch, production],
  );
  const cancel = (strip: string) => {
    aborts.current.get(strip)?.();
    change(strip, null);
  };
  return { uploads, send, cancel };
}
