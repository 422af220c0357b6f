import type { Plan } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { forGood } from '../../data/plan/use-plan.ts'
import { secondPlanner } from '../../workers/planner.ts'

/** The road of a plan as triangles, made in a worker and kept as long as circuit and ground stay. */
export const useRoadMesh = (plan: Plan) => {
  const { circuit, ground } = plan
  return useQuery({
    queryKey: ['road-mesh', circuit.name, circuit.count, circuit.x_m[0], circuit.length_m, ground],
    queryFn: () => secondPlanner().mesh(circuit, ground),
    ...forGood,
  })
}
