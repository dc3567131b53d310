import 'fake-indexeddb/auto'

// React Aria builds selectors with it; jsdom has none.
globalThis.CSS ??= { escape: (text: string) => text.replace(/[^\w-]/g, (one) => `\\${one}`) } as typeof CSS
