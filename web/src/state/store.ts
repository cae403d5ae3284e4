import { useSyncExternalStore } from 'react'

/** A piece of the page's state. What a hand can do to it lives in its modules; looks live in the parts. */
export class Store<T extends object> {
  private listeners = new Set<() => void>()

  constructor(private state: T) {}

  get = () => this.state

  set(change: Partial<T>) {
    this.state = { ...this.state, ...change }
    for (const listener of this.listeners) listener()
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener)
    return () => {
      this.listeners.delete(listener)
    }
  }

  /** Reads the state in a part. */
  use = readerOf<T>(this)
}

function readerOf<T extends object>(store: Pick<Store<T>, 'get' | 'subscribe'>) {
  return function useState<R>(pick: (state: T) => R): R {
    return useSyncExternalStore(store.subscribe, () => pick(store.get()))
  }
}

/** Reads what the browser remembers, over what is usual. */
export function remembered<T extends object>(key: string, usual: T): T {
  try {
    return { ...usual, ...(JSON.parse(localStorage.getItem(key) ?? '{}') as Partial<T>) }
  } catch {
    return usual
  }
}

export function remember(key: string, value: object) {
  localStorage.setItem(key, JSON.stringify(value))
}
