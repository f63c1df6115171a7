import { useCallback, useRef, useState } from 'react';

import { fromProblem } from '@old-echo/core/contracts/problem';
import { LARGEST_STEM, tooLarge } from '@old-echo/core/contracts/sound';

import { api } from '../../store/api';
import { useAppDispatch } from '../../store/store';

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
  const calls = useRef(new Map<string, XMLHttpRequest>());
  const change = (strip: string, by: Partial<Upload> | null) =>
    setUploads((all) =>
      by ? all.map((one) => (one.strip === strip ? { ...one, ...by } : one)) : all.filter((one) => one.strip !== strip),
    );
  const send = useCallback(
    (strip: string, file: File) =>
      new Promise<void>((ended) => {
        const { message, advice } = tooLarge(file.size);
        const why = file.size > LARGEST_STEM ? `${message} ${advice}` : '';
        setUploads((all) => [...all.filter((one) => one.strip !== strip), { strip, name: file.name, part: 0, why }]);
        if (why) return ended();
        // Fetch cannot tell how far it is with what it sends.
        const call = new XMLHttpRequest();
        calls.current.set(strip, call);
        call.open('PUT', `/api/productions/${production}/stems/${strip}?name=${encodeURIComponent(file.name)}`);
        call.setRequestHeader('content-type', 'audio/wav');
        call.upload.onprogress = ({ loaded, total }) => change(strip, { part: total > 0 ? loaded / total : 0 });
        call.onload = () => {
          if (call.status === 200) {
            change(strip, null);
            dispatch(api.util.invalidateTags(['stems']));
          } else {
            const { message, advice } = fromProblem(parsed(call.responseText));
            change(strip, { why: `${message} ${advice}` });
          }
        };
        call.onerror = () =>
          change(strip, { why: 'Old Echo did not answer. Nothing was kept; try again in a moment.' });
        call.onabort = () => change(strip, null);
        call.onloadend = () => {
          calls.current.delete(strip);
          ended();
        };
        call.send(file);
      }),
    [dispatch, production],
  );
  const cancel = (strip: string) => {
    calls.current.get(strip)?.abort();
    change(strip, null);
  };
  return { uploads, send, cancel };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
