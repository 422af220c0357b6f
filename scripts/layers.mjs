/** The folders of core in reading order, and those of web from the foundation up: a folder imports only what stands before it. */
export const layers = {
  core: [
    ...['errors', 'units', 'solve', 'mistakes', 'circuit', 'vehicle', 'path', 'log', 'profile', 'drills', 'marks', 'line', 'plan'],
    ...[
      'corner-numbers',
      'traffic',
      'drive',
      'recall',
      'day',
      'run',
      'calls',
      'findings',
      'progress',
      'words',
      'simulate',
      'cones',
      'schedule',
    ],
    ...['formats', 'quiz', 'seat'],
  ],
  web: ['language', 'look', 'workers', 'data', 'shared', 'stages', 'app'],
}

/**
 * Imports against the order of layers, and folders without a place in it. `imports`: pairs of files below a workspace's
 * source, types included. The source's own index and entry may import anything.
 */
export const againstLayers = (workspace, imports) => {
  const order = layers[workspace]
  const folderOf = (file) => (file.includes('/') ? file.split('/')[0] : null)
  return imports.flatMap(([from, to]) => {
    const [lower, upper] = [folderOf(from), folderOf(to)]
    if (lower === null || upper === null || lower === upper) return []
    const unknown = [lower, upper].find((folder) => !order.includes(folder))
    if (unknown) return [`${workspace}-layers: ${unknown}/ has no place in scripts/layers.mjs`]
    return order.indexOf(upper) > order.indexOf(lower) ? [`${workspace}-layers: ${from} → ${to}`] : []
  })
}
