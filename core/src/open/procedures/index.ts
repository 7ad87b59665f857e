import type { Procedure } from './procedure.ts'
import { ACTIVE_CABLE, LOOSE_TUBE, MICRO_MODULE, RIBBON, ROLLABLE_RIBBON } from './cables.ts'
import { DOME_CLOSE, DOME_ENTER, DOME_OPEN } from './dome.ts'
import { ADHESIVE_CONNECTOR, CONNECTOR_PREPARATION, FIELD_CONNECTOR, MECHANICAL_CONNECTOR } from './connectors.ts'
import {
  JOINTS,
  LIVE_PANEL,
  NEIGHBOURS_AFTER,
  PANEL_MODULE,
  PANEL_MODULE_CLOSE,
  WALL_BOX,
  WALL_BOX_CLOSE,
} from './others.ts'
import { AT_THE_PLACE, BEFORE_ANY_CUT } from './place.ts'

/** The procedures that ship. An operator's own stand beside them, and in place of those whose id they carry. */
export const PROCEDURES: readonly Procedure[] = [
  AT_THE_PLACE,
  BEFORE_ANY_CUT,
  DOME_OPEN,
  LIVE_PANEL,
  LOOSE_TUBE,
  MICRO_MODULE,
  ROLLABLE_RIBBON,
  RIBBON,
  ACTIVE_CABLE,
  CONNECTOR_PREPARATION,
  MECHANICAL_CONNECTOR,
  FIELD_CONNECTOR,
  ADHESIVE_CONNECTOR,
  DOME_ENTER,
  WALL_BOX,
  PANEL_MODULE,
  JOINTS,
  DOME_CLOSE,
  WALL_BOX_CLOSE,
  PANEL_MODULE_CLOSE,
  NEIGHBOURS_AFTER,
]
