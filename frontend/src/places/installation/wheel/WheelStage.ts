export { WheelInputs as Inputs } from "./WheelInputs";
export { WheelResult as Result } from "./WheelResult";
