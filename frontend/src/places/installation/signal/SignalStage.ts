export { SignalInputs as Inputs } from "./SignalInputs";
export { SignalResult as Result } from "./SignalResult";
