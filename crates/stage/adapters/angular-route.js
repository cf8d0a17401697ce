// Where a page of an application of Angular stands in its routes: what the router would tell it of its address.
import * as core from '@angular/core';
import { router as installed } from 'stage:workspace';

/** What stands in an address for a parameter of this name. */
const sampleOf = (name) => (/id$/i.test(name) ? '1' : 'mug');

const nameOf = (it) => (typeof it === 'function' ? it.name : '');
/** Whether a component asks for its route: by what its constructor takes, or in its own code. */
const asks = (Component) => String(Component).includes('ActivatedRoute')
  || (Reflect.getOwnMetadata?.('design:paramtypes', Component) ?? []).some((type) => nameOf(type) === 'ActivatedRoute');

/** What is loaded when it is asked for, by a promise or an observable. */
const loaded = async (load) => {
  const given = load();
  const it = await (typeof given?.subscribe === 'function' ? new Promise((resolve, reject) => given.subscribe(resolve, reject)) : given);
  return it?.default ?? it;
};
/** Whether a route's loading names a component or its file, or its folder. What does not is not loaded for it. */
const fileIn = (load) => (/import\(\s*["'`]([^"'`]+)/.exec(load)?.[1] ?? '').split('/').filter((it) => !it.startsWith('.'));
const bare = (name) => name?.replace(/\.[cm]?[jt]s$/, '');
const namesIt = (load, { Component, file }) => load.split(/[^\w$]/).includes(Component.name) || bare(fileIn(load).at(-1)) === bare(file.split('/').at(-1));
const namesItsFolder = (load, { file }) => fileIn(load).length > 1 && file.split('/').slice(0, -1).includes(fileIn(load).at(-2));

/** The routes of a module that is loaded for its children. */
const routesOf = (ROUTES, it) => (Array.isArray(it) ? it : [it?.ɵinj?.imports ?? []].flat(Infinity)
  .flatMap((imported) => [imported?.providers ?? []].flat(Infinity))
  .filter((provider) => provider?.provide === ROUTES).flatMap((provider) => provider.useValue));

/** The routes from the outermost to the one that shows a component; none where no route does. */
const wayTo = async (asked, routes, { ROUTES }) => {
  const attempt = async (load, names) => (load && names(String(load), asked) ? loaded(load).catch(() => null) : null);
  for (const route of routes) {
    if (route.component === asked.Component || (await attempt(route.loadComponent, namesIt)) === asked.Component) return [route];
    const within = [...route.children ?? [], ...routesOf(ROUTES, await attempt(route.loadChildren, namesItsFolder) ?? [])];
    const way = await wayTo(asked, within, { ROUTES });
    if (way) return [route, ...way];
  }
  return null;
};

/** The route that a router gives to what stands at the end of a way, within those before it. */
const routeAt = (way, { ActivatedRoute, ActivatedRouteSnapshot, UrlSegment }, top) => {
  const Subject = top.params.constructor;
  const own = (it, given) => {
    for (const [name, value] of Object.entries(given)) Object.defineProperty(it, name, { value, writable: true, configurable: true });
    return it;
  };
  const chain = [top];
  for (const route of way) {
    const parent = chain.at(-1);
    const words = (route.path ?? '').split('/').filter((word) => word && word !== '**');
    const address = words.map((word) => (word.startsWith(':') ? sampleOf(word.slice(1)) : word));
    const url = address.map((word) => new UrlSegment(word, {}));
    // A route without a path of its own, or within one that shows nothing, has the parameters of that as well.
    const inherits = !words.length || !(parent.routeConfig?.component ?? parent.routeConfig?.loadComponent);
    const given = Object.fromEntries(words.flatMap((word, i) => (word.startsWith(':') ? [[word.slice(1), address[i]]] : [])));
    const params = { ...(inherits ? parent.snapshot.params : {}), ...given };
    const data = { ...(inherits ? parent.snapshot.data : {}), ...route.data };
    const title = typeof route.title === 'string' ? route.title : undefined;
    const told = { url, params, queryParams: {}, fragment: null, data, title };
    const place = { outlet: route.outlet ?? 'primary', component: route.component ?? null, routeConfig: route, parent, children: [], firstChild: null, root: top };
    const snapshot = own(Object.create(ActivatedRouteSnapshot.prototype), { ...told, ...place, parent: parent.snapshot, root: top.snapshot });
    own(snapshot, { pathFromRoot: [...chain.map((it) => it.snapshot), snapshot] });
    const streams = Object.fromEntries(Object.entries(told).map(([name, value]) => [name, new Subject(value)]));
    const at = own(Object.create(ActivatedRoute.prototype), { ...streams, ...place, snapshot, _futureSnapshot: snapshot });
    own(at, { pathFromRoot: [...chain, at] });
    chain.push(at);
  }
  return chain.at(-1);
};

/** What gives each of some components its route, by its class: none for one that does not ask, or that no route shows. */
export const placed = async (app, parts) => {
  const found = new Map();
  const asking = parts.filter(({ Component }) => typeof Component === 'function' && asks(Component));
  const router = asking.length ? await installed() : null;
  if (!router) return found;
  for (const asked of asking) {
    const way = await wayTo(asked, app.injector.get(router.Router).config, router);
    if (!way) continue;
    const route = routeAt(way, router, app.injector.get(router.ActivatedRoute));
    found.set(asked.Component, core.Injector.create({ providers: [{ provide: router.ActivatedRoute, useValue: route }] }));
  }
  return found;
};
