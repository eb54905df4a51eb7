export { TargetInputs as Inputs } from "./TargetInputs";
export { TargetResult as Result } from "./TargetResult";
