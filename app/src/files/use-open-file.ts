import { useRouter } from 'expo-router';
import { useCallback, useRef, useState } from 'react';

import { MAX_ARCHIVE_BYTES } from '@old-echo/core/contracts/file-transfer';
import { IMPORT_ROUTES } from '@old-echo/core/contracts/routes/file-routes';

import { addressOf } from '../store/ask';
import { sendFile } from '../store/upload-file';

/** A file on its way in. */
export interface Upload {
  readonly name: string;
  /** 0 … 1. */
  readonly part: number;
  /** What went wrong, in a sentence; empty while it goes well. */
  readonly why: string;
}

/** Sends a file to be looked into, with how far it is, and leads to what is inside. */
export function useOpenFile() {
  const router = useRouter();
  const [taking, setTaking] = useState<Upload | null>(null);
  const abort = useRef<(() => void) | null>(null);
  const take = useCallback(
    (file: File) => {
      const why =
        file.size > MAX_ARCHIVE_BYTES
          ? `${file.name} is larger than ${MAX_ARCHIVE_BYTES / 1e9} GB, the limit for a file.`
          : '';
      setTaking({ name: file.name, part: 0, why });
      if (why) return;
      const change = (by: Partial<Upload>) => setTaking((now) => now && { ...now, ...by });
      const sending = sendFile({
        method: 'POST',
        url: addressOf(IMPORT_ROUTES.openFile, { query: { name: file.name.slice(0, 200) } }),
        type: 'application/octet-stream',
        file,
        onPart: (part) => change({ part }),
      });
      abort.current = sending.abort;
      void sending.ended.then((sent) => {
        if (sent && 'why' in sent) return change(sent);
        setTaking(null);
        if (sent) router.navigate(`/files/${(sent.answer as { id: string }).id}`);
      });
    },
    [router],
  );
  const cancel = () => {
    abort.current?.();
    setTaking(null);
  };
  return { taking, take, cancel };
}
