import { readTemplateRows } from '#core/formats/template-rows.ts'
import type { Template } from '#core/templates/template.ts'

/**
 * Quillhaven's templates, a line a task: phase | title | role | effort | working days from the
 * anchor | checklist.
 */
const SHEETS: Record<string, { anchor: Template['anchor']; rows: string }> = {
  'Month-end books': {
    anchor: 'deadline',
    rows: `Gather | Ask for bank and card statements | Bookkeeper | 20m | -12
Gather | Ask for supplier invoices | Bookkeeper | 20m | -12
Gather | Chase what is missing | Bookkeeper | 30m | -9
Gather | Count stock of medicines | Bookkeeper | 45m | -9
Gather | Log petty cash and floats | Bookkeeper | 20m | -8
Post and reconcile | Post sales and card takings | Bookkeeper | 1h 30m | -7
Post and reconcile | Reconcile bank | Bookkeeper | 1h | -6 | Current account; Card account; Deposit account
Post and reconcile | Reconcile supplier statements | Bookkeeper | 45m | -6
Post and reconcile | Payroll journal | Payroll lead | 20m | -5
Post and reconcile | Accruals and prepayments | Reviewer | 45m | -5
Post and reconcile | Depreciation run | Bookkeeper | 15m | -5
Review | Review against last month | Reviewer | 1h | -4 | Gross margin; Medicines; Wages; Overheads
Review | Answer review points | Bookkeeper | 30m | -3
Review | Draft the commentary | Reviewer | 40m | -2
Review | Final check | Reviewer | 15m | -1
Deliver | Books delivered | Bookkeeper | 10m | 0
Deliver | File working papers | Bookkeeper | 15m | 2`,
  },
  'Monthly payroll': {
    anchor: 'deadline',
    rows: `Collect | Ask the practice for hours and changes | Payroll lead | 15m | -7
Collect | Check starters and leavers | Payroll lead | 30m | -5 | Tax codes; Pension; Bank details
Run | Enter hours, sickness and on-call | Payroll lead | 1h | -4
Run | Payroll check before release | Second pair of eyes | 45m | -2 | Gross to last month; Starters; Leavers; \
Pension; Net total; Payment file
Run | Practice approves the figures | Payroll lead | 15m | -1
Release | Release payment file | Payroll lead | 15m | 0
Release | Send payslips and file returns | Payroll lead | 30m | 0`,
  },
  'VAT return': {
    anchor: 'deadline',
    rows: `Prepare | Close the quarter's postings | Bookkeeper | 45m | -10
Prepare | Review partial exemption | Reviewer | 1h | -8
Prepare | Draft VAT return | Bookkeeper | 2h | -6
Agree | Practice agrees the return | Reviewer | 20m | -3
File | File the return | Bookkeeper | 15m | -1
File | Payment booked | Bookkeeper | 10m | 0`,
  },
  'New clinic joining': {
    anchor: 'start',
    rows: `Agree | Welcome call with the practice manager | Account lead | 1h | 1
Agree | Letter of engagement signed | Account lead | 30m | 4
Set up | Open the bank feed | Bookkeeper | 30m | 6
Set up | Agree opening balances | Bookkeeper | 2h | 12
Set up | Move payroll records over | Payroll lead | 2h 30m | 14
Set up | Set up the controlled-drugs register | Compliance lead | 1h | 15
First month | First rota published | Account lead | 45m | 18
First month | First payroll run side by side | Payroll lead | 2h | 22
First month | First books delivered | Bookkeeper | 3h | 28
Settle in | Review the first month together | Account lead | 1h | 30`,
  },
  'Yearly equipment calibration': {
    anchor: 'deadline',
    rows: `Plan | List equipment due | Compliance lead | 30m | -20
Plan | Brief the calibration engineer | Compliance lead | 30m | -15
Visit | Calibrate autoclave and scales | Engineer | 3h | -6
Visit | Calibrate anaesthetic monitors | Engineer | 2h | -6
Close | Certificates checked and filed | Compliance lead | 45m | 0`,
  },
  'Inspection readiness': {
    anchor: 'deadline',
    rows: `Look | Walk round with the checklist | Compliance lead | 2h | -15
Look | List what falls short | Compliance lead | 45m | -14
Mend | Update procedures | Compliance lead | 2h | -8
Mend | Staff training records complete | Practice support | 1h 30m | -6
Ready | Rehearse the inspection | Compliance lead | 1h 30m | -2
Ready | Inspection day | Compliance lead | 4h | 0`,
  },
  'Controlled-drugs register check': {
    anchor: 'deadline',
    rows: `Check | Balance the register against stock | Checker | 45m | -1 | Ketamine; Methadone; \
Fentanyl; Pentobarbital
Check | Sign off controlled-drugs register | Reviewer | 20m | 0`,
  },
  'Clinic leaving': {
    anchor: 'deadline',
    rows: `Close | Agree the last day of each service | Account lead | 45m | -20
Close | Final payroll run | Payroll lead | 1h | -6
Hand over | Records packed and listed | Bookkeeper | 2h | -4
Hand over | Hand-over meeting with the new firm | Account lead | 1h | -2
Hand over | Access removed everywhere | Account lead | 30m | 0 | Bank feed; Payroll; Rota; Shared folders`,
  },
}

/** The templates, each read the way an imported checklist is. */
export function demoTemplates(): Template[] {
  return Object.entries(SHEETS).map(([name, { anchor, rows }]) => {
    const cells = rows.split('\n').map((line) => line.split('|').map((cell) => cell.trim()))
    const { template } = readTemplateRows(
      cells,
      { phase: 0, title: 1, role: 2, effort: 3, days: 4 },
      name,
      anchor,
    )
    const lists = new Map(
      cells.filter((c) => c[5]).map((c) => [c[1]!, c[5]!.split(';').map((item) => item.trim())]),
    )
    // Longer steps start before they are due, so that the axis shows them as spans.
    const phases = template.phases.map((phase) => ({
      ...phase,
      tasks: phase.tasks.map((task) => ({
        ...task,
        ...(lists.has(task.title) && { checklist: lists.get(task.title)! }),
        ...((task.effort ?? 0) >= 30 && {
          start: {
            days: task.due.days - ((task.effort ?? 0) >= 60 ? 2 : 1),
            unit: 'working' as const,
          },
        }),
      })),
    }))
    return { ...template, phases }
  })
}
