import { useRouter, type Href } from 'expo-router';
import { useCallback, useRef, useState } from 'react';

import { LARGEST_FILE } from '@old-echo/core/contracts/file';
import { fromProblem } from '@old-echo/core/contracts/problem';

/** A file on its way in. */
export interface Taking {
  readonly name: string;
  /** 0 … 1. */
  readonly part: number;
  /** What went wrong, in a sentence; empty while it goes well. */
  readonly why: string;
}

/** Sends a file to be looked into, with how far it is, and leads to what is inside. */
export function useTakeFile() {
  const router = useRouter();
  const [taking, setTaking] = useState<Taking | null>(null);
  const call = useRef<XMLHttpRequest | null>(null);
  const take = useCallback(
    (file: File) => {
      const why = file.size > LARGEST_FILE ? `${file.name} has more than ${LARGEST_FILE / 1e9} GB.` : '';
      setTaking({ name: file.name, part: 0, why });
      if (why) return;
      const change = (by: Partial<Taking>) => setTaking((now) => now && { ...now, ...by });
      // Fetch cannot tell how far it is with what it sends.
      const sent = new XMLHttpRequest();
      call.current = sent;
      sent.open('POST', `/api/files?name=${encodeURIComponent(file.name.slice(0, 200))}`);
      sent.setRequestHeader('content-type', 'application/octet-stream');
      sent.upload.onprogress = ({ loaded, total }) => change({ part: total > 0 ? loaded / total : 0 });
      sent.onload = () => {
        const answer = parsed(sent.responseText);
        if (sent.status === 201) {
          setTaking(null);
          router.navigate(`/files/${(answer as { id: string }).id}` as Href);
        } else {
          const { message, advice } = fromProblem(answer);
          change({ why: `${message} ${advice}` });
        }
      };
      sent.onerror = () => change({ why: 'Old Echo did not answer. Nothing was kept; try again in a moment.' });
      sent.onabort = () => setTaking(null);
      sent.send(file);
    },
    [router],
  );
  const cancel = () => {
    call.current?.abort();
    setTaking(null);
  };
  return { taking, take, cancel };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
