// Second face of core: reading files, with the generated validators. Loaded only where a file is read.
export {
  alteredCourses,
  MIGRATIONS,
  readFile,
  type FileProblem,
  type FileReport,
  type Migration,
} from './record/file.ts'
export {
  faultOfEntry,
  faultOfProtocol,
  faultOfRecordFile,
  faultOfRegister,
  faultOfSettings,
  type Fault,
} from './record/validate.ts'
export {
  checkProtocolText,
  editProtocolText,
  isShippedId,
  protocolProblems,
  type ProtocolCheck,
  type ProtocolFault,
} from './protocols/checkProtocol.ts'
