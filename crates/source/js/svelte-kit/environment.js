// `$app/environment`
export const browser = true;
export const building = false;
export const dev = true;
export const version = '1';
