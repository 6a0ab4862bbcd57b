/** A value out of Vue's proxies, which neither threads nor the database can take. */
export const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
