// `$app/stores`: the same as stores.
import { readable } from 'svelte/store';
import { current, held, listen } from './page.js';

const follow = (read) => readable(read(), (set) => { set(read()); return listen(() => set(read())); });

export const page = follow(current);
export const navigating = follow(() => held().navigating);
export const updated = { subscribe: readable(false).subscribe, check: async () => false };
export const getStores = () => ({ page, navigating, updated });
