import { useEffect } from 'react';

/** Lets the page be opened without the server from its second visit on, where the browser can. */
export function useServiceWorker(): void {
  useEffect(() => {
    // Browsers give it only to pages they trust: on this machine, or over TLS.
    if ('serviceWorker' in navigator) navigator.serviceWorker.register('/sw.js').catch(() => undefined);
  }, []);
}
