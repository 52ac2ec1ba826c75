import { lazy, type ComponentType } from "react";

const RELOADED = "tobbix-reloaded";

/** What is loaded when it is first needed. A part that is gone, since a newer version was installed, is loaded
 * with the whole page anew, once. */
export function later<P extends object>(load: () => Promise<{ default: ComponentType<P> }>) {
  return lazy(async () => {
    try {
      const found = await load();
      sessionStorage.removeItem(RELOADED);
      return found;
    } catch (error) {
      if (sessionStorage.getItem(RELOADED)) throw error;
      sessionStorage.setItem(RELOADED, "once");
      window.location.reload();
      return new Promise<never>(() => undefined);
    }
  });
}
