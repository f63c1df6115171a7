import { fromProblem } from '@old-echo/core/contracts/problem';

/** What came of a file that was sent: an answer, a sentence about what went wrong, or null where it was cancelled. */
type UploadResult = { readonly answer: unknown } | { readonly why: string } | null;

interface Sending {
  readonly method: 'POST' | 'PUT';
  readonly url: string;
  readonly type: string;
  readonly file: File;
  /** Told how far it is, 0 … 1. */
  readonly onPart: (part: number) => void;
}

/** Sends a file as it is. Fetch cannot tell how far it is with what it sends. */
export function sendFile({ method, url, type, file, onPart }: Sending): {
  readonly ended: Promise<UploadResult>;
  readonly abort: () => void;
} {
  const call = new XMLHttpRequest();
  const ended = new Promise<UploadResult>((resolve) => {
    call.open(method, url);
    call.setRequestHeader('content-type', type);
    call.upload.onprogress = ({ loaded, total }) => onPart(total > 0 ? loaded / total : 0);
    call.onload = () => {
      const answer = parsed(call.responseText);
      const { message, advice } = fromProblem(answer);
      resolve(call.status < 300 ? { answer } : { why: `${message} ${advice}` });
    };
    call.onerror = () =>
      resolve({ why: 'Can’t reach the server. The file was not saved; check that the server is running.' });
    call.onabort = () => resolve(null);
    call.send(file);
  });
  return { ended, abort: () => call.abort() };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
