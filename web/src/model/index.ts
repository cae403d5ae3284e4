/** What the page computes by itself as the engine does, so that nothing has to be waited for; held to the engine's own values by tests. */
export * from './films'
export * from './hues'
export * from './look'
export * from './number'
export * from './outline'
export * from './parts'
export * from './spline'
export * from './zones'
