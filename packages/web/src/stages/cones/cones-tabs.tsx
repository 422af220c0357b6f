import { StageTabs } from '../../shared/stage-tabs.tsx'

/** The pages of the Cones stage. */
export const ConesTabs = () => (
  <StageTabs
    label="Pages of this stage"
    tabs={[
      { to: '/cones', name: 'Plan' },
      { to: '/cones/schemes', name: 'Schemes and stock' },
      { to: '/cones/lay', name: 'Lay' },
      { to: '/cones/check', name: 'Check again' },
    ]}
  />
)
