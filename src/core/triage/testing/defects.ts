/** Defects of the ferry line, each told by three people in their own words, and failures that none of them
 * is. Written before the computation was run on them, and not changed since. */
type Told = readonly [title: string, text: string]

export const DEFECTS: readonly (readonly [known: Told, ...again: Told[]])[] = [
  [
    [
      'Fare of a family is one cent short',
      'For two adults and two children the total says 86.39 and 86.40 is right. It is rounded for each ' +
        'passenger.',
    ],
    [
      'Rounding of the family price',
      'Two grown-ups and two children pay 86.39, and should pay 86.40: the sum is made of rounded amounts.',
    ],
    ['86.39 charged in place of 86.40', 'check fare-total failed for a family of four, expected 86.40'],
  ],
  [
    [
      'Deck plan lies over the Keep these seats button',
      'On narrow screens the plan of the deck hides the button under it, a click goes to the plan.',
    ],
    [
      'Keep these seats cannot be clicked on a handset',
      'The point belongs to svg.deck-plan. The drawing covers the button.',
    ],
    [
      'Seats: button is covered by the drawing of the deck',
      'On 390 pixels the deck plan overlaps what is below it.',
    ],
  ],
  [
    [
      'Boarding cards are printed twice',
      'After the gate agent presses Print once, two cards come out of the printer.',
    ],
    ['Duplicate printout at the gate', 'One press of Print gives two boarding cards.'],
    [
      'Gate: print job sent two times',
      'POST /print is asked for twice after one click, so the passenger gets two cards.',
    ],
  ],
  [
    [
      'Sign-in of the desk times out at night',
      'Between 02:00 and 02:20 POST /sign-in answers after 30 seconds or never.',
    ],
    [
      'Nobody can sign in at the desk around two in the morning',
      'The request to sign in hangs for half a minute.',
    ],
    ['Desk login slow during the nightly backup', 'sign-in takes 30 s at 02:10'],
  ],
  [
    [
      'Refund mail has the wrong date',
      'The mail about a refund names the day of the booking and not that of the refund.',
    ],
    [
      'Wrong day in message after refund',
      'Refunded on the 14th, the message says the 3rd, which is when it was booked.',
    ],
    ['Refund confirmation: date of booking is shown', 'Expected the date of the refund in the mail.'],
  ],
  [
    [
      'A dog is counted as a passenger',
      'Manifest adds pets to the number of people on board: 41 for 40 people and one dog.',
    ],
    ['Manifest counts pets as people', 'Number on board is too high by the dogs that travel.'],
    ['Number of persons aboard wrong when a pet travels', 'manifest shows 41, 40 are aboard, one dog'],
  ],
  [
    [
      'Storm notice stays after the storm',
      'The notice “no sailings today” is still on the page when sailings go again.',
    ],
    ['Notice about cancelled sailings does not go away', 'Ferries sail again and the storm banner remains.'],
    ['Storm banner still visible though ships leave', 'check that the notice is hidden failed'],
  ],
  [
    [
      'Vehicles over 5 m may book the small ferry',
      'The Dunlin takes cars up to 5 m, and a van of 6.2 m was accepted.',
    ],
    ['Length of a van is not checked for Dunlin', 'A vehicle of 6.2 m gets a place on a vessel for 5 m.'],
    ['Booking accepts too long vehicle on the small vessel', 'expected a refusal for 6.2 m'],
  ],
  [
    ['NaN as the price of a bicycle', 'Choosing a bicycle as the only vehicle shows NaN in the total.'],
    ['Bicycle alone: total is NaN', 'TypeError in addFare when there is no passenger with the bicycle'],
    ['Price of a bike reads NaN', 'Selecting bicycle and nothing else gives NaN where 4.00 is expected.'],
  ],
  [
    [
      'Search forgets the return date',
      'After going back from the list of sailings the field for the return is empty.',
    ],
    [
      'Return day is lost when going back to the search',
      'Choose a return, look at sailings, go back: the return field is blank.',
    ],
    ['Going back empties the date of the return crossing', 'value of #return is empty, expected 2026-12-14'],
  ],
  [
    [
      'Gate accepts a card of yesterday',
      'Scanning a boarding card whose sailing left the day before opens the gate.',
    ],
    ['Old boarding cards open the barrier', 'A card for the sailing of yesterday is accepted at the gate.'],
    ['Expired card passes at gate', 'expected “not for today”, the gate says welcome'],
  ],
  [
    ['Quillhaven is missing in the list of ports', 'The list To has no Quillhaven when From is Tolva.'],
    ['Cannot choose Quillhaven from Tolva', 'The option is not in the list of destinations.'],
    ['Destination list lacks a port', 'From Tolva one cannot pick Quillhaven: choose has no such option'],
  ],
  [
    [
      'Postcode with a blank is refused',
      'The address form says the postcode is invalid when it is written with a space.',
    ],
    ['Address: “FS1 2AB” is not accepted', 'A postcode with a space in it gives “not a postcode”.'],
    ['Space in the postcode makes the form fail', 'validation of the postal code rejects blanks'],
  ],
  [
    [
      'Manifest answers 500 for an empty sailing',
      'GET /api/sailings/0715/passengers gives 500 when nobody booked.',
    ],
    [
      'Server error for sailings without passengers',
      'call manifest: status 500 in place of 200 and an empty list',
    ],
    ['500 from manifest when no one is booked', 'java.lang.NullPointerException at Passengers.list'],
  ],
  [
    [
      'Agent at the desk can refund twice',
      'Pressing Refund a second time before the page comes back pays the money again.',
    ],
    ['Double refund by a quick second click', 'Two clicks on Refund send two payments.'],
    ['Refund is paid out two times', 'The ledger of the desk shows two refunds for FS-40121.'],
  ],
]

export const NEW_ONES: readonly Told[] = [
  ['Timetable in winter shows summer sailings', 'From November the 22:10 does not sail, and is offered.'],
  ['Logo is blurred on dense screens', 'The picture in the head of the page is drawn at half of its size.'],
  ['Keyboard focus is lost after the calendar closes', 'Tab goes to the start of the page.'],
  ['Export of passengers has no header', 'The CSV of the manifest begins with the first passenger.'],
  ['Child of 4 pays as an adult at midnight', 'Age is computed in UTC and not where the ship is.'],
  ['Voucher code is case sensitive', 'winter26 is not taken, WINTER26 is.'],
  ['Chat window opens over the cookie note', 'Both want the same corner.'],
  ['Crew list sorts names by first name', 'Expected by surname.'],
  ['Tide table is off by an hour since the clocks changed', 'High water at Tolva 13:20, shown as 12:20.'],
  ['Long names break the layout of the crew page', 'A surname of 40 letters runs out of its column.'],
  ['Weather of another port is shown', 'Little Aske has the wind of Maren Quay.'],
  ['Undo of a seat change does nothing', 'The old seat stays taken.'],
]
