import { StageTabs } from '../../shared/stage-tabs.tsx'

/** The pages of the Run stage: those for a desk here, those for a tablet open on their own. */
export const RunTabs = () => (
  <StageTabs
    label="Pages of this stage"
    tabs={[
      { to: '/run', name: 'Runs' },
      { to: '/run/pit-wall', name: 'Pit wall' },
      { to: '/run/lead-follow', name: 'Lead-follow' },
      { to: '/run/corner-post', name: 'Corner post' },
      { to: '/run/pad', name: 'Pad' },
      { to: '/run/history', name: 'History' },
      { to: '/run/devices', name: 'Devices' },
    ]}
  />
)
