import type { ComponentType } from 'react'
import { Curve } from './Curve'
import type { EditorProps } from './editor'
import { Families } from './Families'
import { Grid } from './Grid'
import { Levels } from './Levels'
import { Points } from './Points'
import { Skin } from './Skin'
import { White } from './White'
import { Zones } from './Zones'

/** The controls of kinds that need more than a line of dials, by the name their declaration gives. */
export const editors: Record<string, ComponentType<EditorProps>> = {
  grid: Grid,
  zones: Zones,
  curve: Curve,
  levels: Levels,
  families: Families,
  points: Points,
  skin: Skin,
  white: White,
}
