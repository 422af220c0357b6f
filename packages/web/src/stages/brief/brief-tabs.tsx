import { StageTabs } from '../../shared/stage-tabs.tsx'

/** The pages of the Brief stage. */
export const BriefTabs = () => (
  <StageTabs
    label="Pages of this stage"
    tabs={[
      { to: '/brief', name: 'Pages' },
      { to: '/brief/calls', name: 'Calls' },
      { to: '/brief/rehearse', name: 'Rehearse' },
      { to: '/brief/students', name: 'Students' },
    ]}
  />
)
