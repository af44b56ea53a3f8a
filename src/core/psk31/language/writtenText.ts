/**
 * Text as people type it in PSK31, written for this: what the model of letters is learned from. Fields in braces stand for what differs
 * from contact to contact (`fields.ts` fills them in), so that no call and no number is likelier than another.
 */
export const WRITTEN_TEXT = `
cq cq cq de {call} {call} {call} pse k
CQ CQ CQ de {call} {call} {call} CQ CQ CQ de {call} {call} pse k
cq cq de {call} {call} cq cq de {call} {call} ar pse k k
{their} {their} de {call} {call} pse kn
{their} de {call} {call} {call} k
{their} de {call} good morning and thanks for the call. your report is {rst} {rst} {rst}. my name is {name} {name} and my qth is {place} {place}. locator {loc} {loc}. so how do you copy me? btu {their} de {call} kn
{their} de {call} good afternoon dear {name}, thank you very much for coming back to me. ur rst is {rst} {rst}. name here is {name}, {name}. qth is near {place}, loc is {loc}. how copy? {their} de {call} k
{their} de {call} = ga om tnx fer call = ur rst {rst} {rst} = name {name} {name} = qth {place} {place} = loc {loc} {loc} = hw? ar {their} de {call} kn
r r r {their} de {call} fine dear {name}, solid copy here, thanks for the report and the info. my station is a small transceiver with {n} watts into a wire antenna, a dipole up {n} meters. the interface is home made and the software runs on an old laptop. weather is sunny today, {n} degrees. back to you {name}, {their} de {call} kn
ok {name} all copied 100 percent. my rig here runs {n} watt and the antenna is a vertical on the balcony. the wx is cloudy with some rain and {n} c. i am {n} years old and licensed since {year}. so {name}, btu {their} de {call} k
Hello {name}, and many thanks for the nice report. You are a good signal here too, but there is some qsb on the band. I am running {n} watts to an end fed wire in the garden. The weather today is cold and windy, temperature is {n} degrees. How is it with you? {their} de {call} kn
thanks {name} for the qso, it was very nice to meet you on psk. i wish you all the best, good dx and good health to you and your family. hope to see you again soon. 73 73 {their} de {call} sk
tnx fer fb qso dr {name} es hpe cuagn. 73 es gd dx. {their} de {call} sk sk tu e e
ok {name} thanks for the contact, i will send you a card via the bureau. all the best from {place}, 73 and see you down the log. {their} de {call} sk
qrz? qrz? de {call} {call} pse k
qrz de {call} k
who called? pse again your call, your call please. de {call} kn
sorry {name} i missed your name and place, there was some interference. please repeat name and qth. {their} de {call} kn
agn agn pse ur call? de {call} k
pse rpt rst and name, qrm here. btu {their} de {call} kn
sri om, qsb es qrm, only copied part of it. pse agn? {their} de {call} k
my call is {call} {call} {call}, report {rst} {rst} {rst}, name {name} {name} {name} k
ur {rst} {rst} in {place} {place}, name {name} {name}. hw cpy? bk
bk r r tnx {name}, ur {rst} too, op {name} in {place}. bk to u
qsl all ok {name}, tnx report {rst}. here {place}, {n} w es dipole. 73 {their} de {call} sk
rsq is {rsq} {rsq}, very clean signal. my operator name is {name}, {name} and my home is {place}. the grid square is {loc} {loc}. over to you, {their} de {call} kn
your imd is minus {n} db, that is very good. your signal is strong and clean, no noise at all.
your signal is a little wide {name}, maybe the audio level is too high. please check the alc, it should read zero. thank you.
i think your transmitter is overdriven, i see several lines on the waterfall. perhaps turn the drive down a bit?
i will turn my beam now, stand by. how is it now? better or worse?
the band is open to the east now, i worked several stations this morning. conditions are not so good today, signals are up and down.
i am portable today, on a hill above {place}, {n} m asl. battery power and {n} watts. it is a nice place with a view of the mountains and the lake.
i am on holiday here with a small tent and a folding table. the antenna is a wire thrown over a tree.
this is my first contact with your country, thank you so much! i am very happy.
my home page has pictures of the station. my address is correct in the book. e-mail is fine too.
i am retired and was a teacher at the school. my other hobbies are gardening, fishing, walking with the dog and reading books.
i have worked as an engineer in electronics for {n} years. now i have time for the radio and for the grandchildren.
the rig is {n} years old and still going strong. the power supply is home brew.
sorry for the slow typing, i use only two fingers. my english is not so good but i try.
nice to hear that, {name}. yes i agree with you about the weather, it has been very dry this summer and we need rain.
we have snow here since monday, about {n} cm. it is very quiet outside. the children are happy.
the time here is {time} local, {time} utc. it is late in the evening and i must go to bed soon.
i have to go now, dinner is ready and the xyl is calling. so thanks again {name}, take care and stay safe.
please qsl via bureau or direct, i confirm all. thanks for the new one!
good evening, good night, good luck, good morning, good afternoon, good dx.
yes no please thank you very much indeed. of course. well done. fine business. best wishes. kind regards.
the and that have for not with you this but his from they say her she will one all would there their what out about who get which when make can like time just him know take people into year your good some could them see other than then now look only come its over think also back after use two how our work first well way even new want because any these give day most us
north south east west town city village river coast island street near between km miles from the capital
antenna antennas dipole vertical beam loop wire tower mast coax tuner balun feeder ground radials element elements long end fed inverted vee
transceiver receiver transmitter radio station interface software computer laptop tablet sound card microphone cable power watts output battery solar panel
report readability strength quality signal noise interference fading band meters frequency propagation sunspots
rst rsq qth qrm qrn qsb qrp qro qsl qso qrt qrx qsy wx xyl yl om op dr es fb hw cpy tnx tks pse agn ur vy gm ga ge gn gl sri rpt rig ant pwr loc info nr abt fer hpe cul cuagn bk btu kn sk ar k
going qrt now, will be back tomorrow at {time}. 73 to all. {call} sk
test test de {call} {call} test
de {call} {call} {call} testing the new interface, any station please come in. k
calling {their} {their} de {call} {call} are you there? k
{their} {their} de {call} {call} i hear you but very weak, please try again with more power. k
thank you for the report, {name}. {n} watts here and a vertical antenna. your copy is perfect here in {place}.
so back to you {name}, what are you using for an antenna? {their} de {call} kn
the quick check of my audio please. is the signal clean? how is the imd?
hello again {name}, long time no see. how are you and how is the family? i hope everybody is fine.
ok on the weather and ok on the rig, {name}. same here more or less, only a little warmer with {n} degrees this morning.
so {name} i will let you go now. it was a real pleasure to talk to you. till next time and 73.
{their} de {call} good evening {name} and welcome, thanks for answering my call. you are coming in very well, rst {rst} {rst}. here the name is {name} and i am living in a small village near {place}. what is your name please? {their} de {call} kn
hi {name}, copy all, fb. here rig is {n} w, ant is a g5 type wire at {n} m high, and a magnetic loop indoors. hw is the band at ur side? bk
i also run a delta loop and a quad for the higher bands, and a long wire into a tuner in the attic. the feed line is {n} m of coax.
on the balcony there is not much room, so i must use a short whip with radials. it works better than i thought.
my friend lent me his amplifier but i like to work with low power. a few watts are enough on this mode.
the interface comes from a kit, it was easy to build. i used a cable from the sound card to the data jack.
your tone is steady and there is no drift now. a minute ago you moved by some hertz, maybe it was me.
you came up very nicely just now, then you went down again into the noise. the fading is slow but deep today.
please keep it short, i lose you now and then. only rst and name please.
sorry for that, the power went off for a minute. where were we? i think you asked about my antenna.
sorry, i must check the level of the audio, one moment please.
i have been on the air since {year}, first with a key and later with this mode. it is fun to type and to watch the other signals.
foggy this morning, later some sun, wind from the west, pressure is rising. it was warm last week and now winter is coming.
last winter was long and last summer too hot. the garden needs water, the trees are dry, and the fence is broken.
we live by the sea, the beach is ten minutes on foot. from the window i see the coast and the ships.
the house stands on the edge of the forest at {n} m, with a good take off to the south and the north west.
i use a kit radio that i built last month, and an old battery which must be charged soon.
hope you had a nice weekend. we went by bike along the lake and met some old friends.
what do you think about the new antenna? do you use it for other modes too? how many countries did you work?
dear {name}, dear friend, my friend, old man, dear om, dear op. hello hello. good to see you here.
that was my second contact today and the best so far. i will put it into the log right away.
name is {name} {name}, op is {name}, op {name}, my name here is {name}. i live in {place}, home is {place}, qth {place} {place}.
r r solid copy, fb om, all ok here. info copied, tnx for the info. fb copy {name}.
btu {name}, back to you {name}, over to you {name}, so back to you, go ahead please. {their} de {call} pse kn
{their} de {call} many thanks for your answer {name}, nice to hear you again on this band. we had a contact last year in the autumn, i see it in my log. everything is well here. {their} de {call} kn
it is a pleasure to talk with you {name}. my family is fine, the kids are at school and my wife is at work until four.
at the moment i am using the small radio with {n} watts only, because the big one is at the repair shop. the screen is broken.
i bought it from a friend who does not use it any more. it came with a microphone, two cables and the manual.
the manual says that full power should not be used in this mode for a long time, so i turn it down to {n} percent.
antenna here is a half wave wire between the house and a pole, about {n} meters over the ground. it is resonant on three bands.
i put up a new vertical last sunday with {n} radials on the lawn. the swr is below two on all bands, so i am very satisfied.
we are on a camping trip with the caravan. the site is quiet and there is a lot of space for antennas.
today i operate from a park with a battery and a folding solar panel. there is shade under the trees and a cool wind.
i sit on a bench next to the car, the dog sleeps under the table. some people stop and ask what i am doing.
from here i can see three summits and the valley below. it took two hours to walk up with all the things on my back.
i hope to make ten contacts before lunch, you are number {n} today. thanks for helping me with the activation.
you have a strong signal here, about {n} db over the noise, and no errors at all in your text.
the noise level is high in the evening because of the neighbours, they have led lamps and a charger for the car.
there is a carrier right beside you, so i missed the last words. could you say the last sentence again?
copy is good but not all. i read name and report, then nothing more until the end. please send your town again.
now it is much better, nearly perfect. before that it was hard to read. thank you for your patience.
i turned the antenna to the north east, so you should be stronger now. please tell me if there is a difference.
if you hear me please give me a short report, i am testing with very low power, only {n} milliwatts.
it is amazing what is possible with so little power when the sun is active. yesterday i heard stations from all continents.
the higher bands are closed here after sunset, then i go down to forty or eighty meters and listen to the early birds.
in the morning there is often a short opening over the pole, but it lasts for half an hour at most.
sunspot numbers were low last week, but now they go up and the bands come alive again. that is good news for all of us.
we get thunderstorms this afternoon, i will disconnect the antennas soon. better safe than sorry.
weather here is fine, blue sky and {n} degrees, no clouds at all. a perfect day to be outside, but i sit in the shack.
it is snowing again and the roads are white. the oven is on and i have a hot cup of tea and a piece of cake.
autumn has come, leaves are falling and in the mornings there is fog over the fields. i like this time of the year.
my job has nothing to do with radio, i drive a truck, so i can be on the air only at weekends.
i was a nurse at the hospital, later i taught languages. since two years i have all the time in the world.
besides radio i play the guitar, i sing in a choir, and i repair old clocks. my wife paints and makes pottery.
our club meets every first friday of the month. we have {n} members, some of them are very young. that makes me happy.
next month we take part in a field day with tents and a generator. you are welcome to visit us.
i learned the code as a boy and my father built my first receiver. those were other times, everything with tubes.
do you have an electronic log? i send mine once a week. you find my address and a picture on the net.
no card necessary, but if you need one just tell me. i print them myself and like to send them by mail.
i confirm via the log of the world and by the bureau. direct is also ok, one green stamp please.
have a look at my page when you find the time, there are some photos of antennas and of our garden.
i think that was all from my side, there are no more questions. you take the last words and then i say good bye.
thanks again {name} for this nice chat. i enjoyed it very much. give my regards to your wife. bye bye and see you on another band.
have a good rest of the day {name}, and a good start into the week. ciao and best wishes from {place}. 73 {their} de {call} sk
ok dear {name}, thank you for the pleasant contact and for all the details. i wish you a quiet night. good bye, {their} de {call} sk
roger roger {name}, fine on all. everything was clear here, only one or two letters were missing.
just a moment {name}, the phone rings. back in one minute. {their} de {call} qrx
here i am again, sorry for the break. it was my daughter who asked when she can come for coffee.
i must close down now, my battery is almost empty, the voltage is down to {n} volts. thanks and 73 {name}.
any other station for me? listening for a while. qrz de {call} {call} pse k
nobody else? then i change the band. 73 to all who listen. {call} qsy
good hunting, good luck with the activation, good health, and many nice contacts with us all.
bonjour buenos dias guten morgen guten tag guten abend buongiorno hola hallo ciao merci danke gracias grazie tack takk kiitos obrigado dziekuje spasibo hvala auf wiedersehen adios au revoir
monday tuesday wednesday thursday friday saturday sunday january february march april may june july august september october november december
one two three four five six seven eight nine ten eleven twelve twenty thirty fifty hundred thousand first second third
`
