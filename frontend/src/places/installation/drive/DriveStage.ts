export { DriveInputs as Inputs, DriveResult as Result } from "./DriveInputs";
