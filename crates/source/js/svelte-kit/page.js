// Where the application stands, for the modules that SvelteKit's build makes: the address is the window's own, which the stage takes
// back between cases, and so is the rest, which lies on the window too.

const PAGE = Symbol.for('application.page');

/** What the application knows besides its address, and who wants to hear that something changed. */
export const held = () => globalThis[PAGE] ??= {
  params: {}, route: { id: '/' }, status: 200, error: null, data: {}, form: null, navigating: null,
  hearing: new Set(), before: new Set(), on: new Set(), after: new Set(),
};

/** The page as it is now. */
export const current = () => {
  const { params, route, status, error, data, form } = held();
  return { url: new URL(location.href), params, route, status, error, data, form, state: history.state ?? {} };
};

/** Tells all who listen that the page is another one. */
export const tell = () => { for (const hear of [...held().hearing]) hear(); };

/** Calls `hear` whenever the page changes, until what it gives is called. */
export const listen = (hear) => {
  const { hearing } = held();
  hearing.add(hear);
  addEventListener('popstate', hear);
  addEventListener('hashchange', hear);
  return () => {
    hearing.delete(hear);
    removeEventListener('popstate', hear);
    removeEventListener('hashchange', hear);
  };
};
