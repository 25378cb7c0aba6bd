/** Where the page's own box is scrolled: at its top on a page that is new, as it was on one that is come back to. */
import { type RefObject, useEffect, useLayoutEffect, useRef } from 'react';
import { useLocation, useNavigationType } from 'react-router';

export function useKeptScroll(box: RefObject<HTMLElement | null>): void {
  const { key, pathname, hash } = useLocation();
  const type = useNavigationType();
  const kept = useRef(new Map<string, number>());
  const shown = useRef(pathname);
  useLayoutEffect(() => {
    if (!box.current || shown.current === pathname) return;
    shown.current = pathname;
    // A place within the page is gone to by the browser.
    if (hash === '') box.current.scrollTop = type === 'POP' ? (kept.current.get(key) ?? 0) : 0;
  }, [box, key, pathname, hash, type]);
  useEffect(() => {
    const element = box.current;
    const keep = () => void kept.current.set(key, element?.scrollTop ?? 0);
    element?.addEventListener('scroll', keep, { passive: true });
    return () => element?.removeEventListener('scroll', keep);
  }, [box, key]);
}
