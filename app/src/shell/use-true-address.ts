import { usePathname, useRouter } from 'expo-router';
import { useEffect, useRef } from 'react';

/** How long the router has to follow the browser, in ms. Being asked again for the page it is on does it no harm. */
const FOLLOWS_MS = 100;

/**
 * Keeps the page the one that the address names. After two steps back and one forward the router stays where it was, although
 * the browser has gone on; then it is told where that is.
 */
export function useTrueAddress(): void {
  const router = useRouter();
  const pathname = usePathname();
  const shown = useRef(pathname);
  useEffect(() => {
    shown.current = pathname;
  }, [pathname]);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const follow = () => {
      clearTimeout(timer);
      timer = setTimeout(() => {
        const { pathname: named, search } = window.location;
        if (plain(shown.current) !== plain(named)) router.replace(`${named}${search}`);
      }, FOLLOWS_MS);
    };
    window.addEventListener('popstate', follow);
    return () => {
      clearTimeout(timer);
      window.removeEventListener('popstate', follow);
    };
  }, [router]);
}

/** A path without percent signs, however it was typed. */
function plain(path: string): string {
  try {
    return decodeURI(path);
  } catch {
    return path;
  }
}
