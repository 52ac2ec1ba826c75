import { useEffect, useRef, useState, type RefObject } from "react";

/** The width of an element as it is laid out (px), so that what is drawn in it keeps its size on every screen. */
export function useMeasured<E extends HTMLElement>(usual: number): [RefObject<E | null>, number] {
  const ref = useRef<E>(null);
  const [width, setWidth] = useState(usual);
  useEffect(() => {
    const element = ref.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(
      ([entry]) => entry && setWidth(Math.max(Math.round(entry.contentRect.width), 240)),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, width];
}
