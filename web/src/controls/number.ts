/** What every control of a number is given. */
export interface NumberProps {
  label: string
  help: string
  unit?: string
  min: number
  max: number
  step: number
  initial: number
  value: number
  dim?: boolean
  onChange: (value: number, gesture: string, hurry: boolean) => void
  onReset: () => void
}
