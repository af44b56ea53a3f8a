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
{their} de {call} thanks for the call {name}, your signal is {rst} {rst} here. my name is {name} and i am near {place}, that is in the middle of the country. locator {loc}. so how copy, {name}? {their} de {call} k
ok {name}, everything received. here i have {n} watts and a simple wire in the trees, and the radio stands on a wooden box. btu
fb {name} and thanks for the nice report. it is the first time that we meet, i cannot find you in my log. the working conditions here are {n} watts and a ground plane.
i see you very well on the screen, a nice narrow line. there are two other stations calling above you, and one of them is very wide.
r r r and good copy on all, only the name of the town was lost in the noise. can you type it once more, please?
yes, now i have it. thank you for the repeat {name}. i know the place, we went there by train some years ago.
the radio here is small and fits in a bag, together with the tuner, a tablet and a cable or two. the whole station weighs about {n} kg.
the tablet runs the whole day from its own battery. in the sun it is hard to see the screen, so i sit under an umbrella.
the line between the radio and the computer has a transformer in it, so there is no hum any more. before that it was a mess.
i set the level with the slider until there was no alc, and then a little less. i hope that the signal is good.
do you see any splatter from me? i changed the settings a minute ago, and i am not sure about the level.
you asked about my antenna: it is a dipole at eight meters, the ends are lower because the garden is small. it runs from east to west.
the tuner finds a match on every band except the lowest one. there i would need a much longer wire.
the mast is made of fiberglass and can be put up in ten minutes by one person. when the wind blows it bends a lot.
i had to take down the beam because the neighbour did not like it. now there is a thin wire which nobody can see.
last night a storm broke one of the ropes, so the antenna hangs in the bush at the moment. it still works somehow.
we moved to this house two years ago, and there is still a lot to do. first the roof, then the kitchen, and the antenna comes last.
my shack is in the cellar, so it is cool in summer and there is room for a workbench. but the way to the antenna is long.
there is very little noise here because we are far away from the next town. at night i can hear everything.
in the city there is noise on all bands, s7 or s8 all the time. that is why i drive out to the hills on saturdays.
i like this mode because one can chat with people, not only send a report and say good bye.
many stations only use the fast modes now, so it is good to find someone who has time for a talk.
i type with two fingers and i make mistakes, please forgive me. the keyboard is very small.
these texts are ready made, so that is why it looks so fast. now i am typing myself, and you see the difference.
english is my third language, at school we learned french. i understand more than i can write.
where did you learn to speak my language? it is very good, there are no mistakes at all.
i passed the examination in {year} together with my brother. he is not active any more, but he still has the licence.
my daughter has her licence too, she likes to build things and to climb on mountains with a handheld.
the grandson is eight years old and looks over my shoulder. he says hello to you and wants to know how far away you are.
the distance between us is about {n} km, if the map is right. and the beam heading is {n} degrees from here.
you are the first station from there for me on this band. thank you, that makes my day.
it is still early here and the sun is coming up. i always get up before the others and turn on the radio with a cup of coffee.
it is nearly midnight now, and everyone sleeps. i use headphones and try to be quiet.
today is a holiday here, so there are more stations on than usual. in the afternoon we have guests for cake.
we had a lot of rain during the night, and the river is high. the path to the bridge was under water this morning.
the sky is grey, there is a light breeze and the temperature is around {n} degrees. tomorrow should be better.
it was minus {n} degrees last night, and the car did not start. but in the sun it is pleasant and the snow is bright.
very hot here, {n} degrees in the shade and no wind. we wait for a thunderstorm that never comes.
the apples are ripe now, and we made juice yesterday, about {n} litres. the tomatoes were not so good this year.
i keep bees, so i have enough work in the spring. in winter there is more time for radio and for reading.
i worked on ships as a radio officer and saw a lot of harbours. it was another world then.
before that i was a mechanic, then a driver of buses, and at last a clerk in an office. now i enjoy the free days.
i am still at work, but only three days a week. the company makes parts for machines.
how did you come to radio? with me it was a neighbour who let me listen when i was ten.
how long have you been on the air? and which bands do you like best?
what is the weather like on your side? i heard on the news that you have a lot of snow.
what are you going to do with the rest of the day? we want to go for a walk before it gets dark.
are you using a vertical or a wire? your signal comes and goes, but most of the time it is very easy to read.
is this your usual frequency? i am often here in the evening after nine, mostly at the end of the week.
did you get my last over? there was a strong station on top of us and i did not see your answer.
yes you are right, it was on the same frequency. i think they cannot hear you, and so they do not know.
let us move up a little, about a hundred hertz, there it is free. i will call you there. {their} de {call}
i am back, is it better here? {their} {their} de {call} {call} k
there you are, that is much better. so again, my name is {name} and your report is {rst}. {their} de {call} k
now you are down in the noise again, so i will make it short. thanks for all and 73, {name}. {their} de {call} sk
i did not copy the call of the other station who called, only a part of it. please wait {name}, i will ask him to stand by.
please stand by a moment, there is another caller. who was that, please? the one with the letters at the end, again please. de {call} k
thanks for waiting. now to you please, your name and report again. {their} de {call} kn
i have three more stations waiting, so i must be quick today. thank you {name}, 73 and good luck. {their} de {call} sk qrz?
the activation runs until {time} utc, then i must take everything down because the park closes.
this is a special call for the birthday of our club, which is {n} years old. every contact gets a card with a picture.
i am on an island this week, with a small station next to the lighthouse. the reference is on my page.
the ferry leaves at {time}, so there is time for a few more contacts. the antenna stands in the salt water and works great.
i came up here by bicycle with everything in two bags. the way down will be easier than the way up.
my hands are cold, so there may be more mistakes than usual. there is still ice on the stones up here.
the battery is down to {n} percent, and the panel does not give much with these clouds. i think it lasts for another hour.
i went to the shop and they gave me a used receiver for a few coins. it only needed a new fuse and some cleaning.
it took me the whole winter to build it, but it worked the first time. that does not happen often to me.
something is wrong with my computer, it was very slow and then it stopped. i had to start it again, sorry for the silence.
the clock of this old machine is always wrong, so do not trust the time i gave you. it should be {time} utc.
my program did not decode your call at first, because of the noise. now i have it in the log.
ok, it is in the log now. you will get my card through the bureau, but it can take a year or more.
i upload the contacts every sunday evening, so look there next week. if something is missing please send me a mail.
thank you for the nice words {name}. it is always good to talk to someone who knows the old days.
that was a long over, i hope you are still there and did not fall asleep. back to you. {their} de {call} kn
i am still here, {name}, and i read every word. thanks for the story about the ship, it made me laugh.
all understood. we think the same way about that. it is only a hobby, but a very good one.
i wish you and your family a happy new year, good health and a lot of success with the new antenna.
merry christmas to you and to all at home, and thanks for the many nice contacts during the year.
enjoy your holidays, and have a safe trip home. i will look for you when you are back.
it was good to meet you again after such a long time. stay well, keep the batteries charged, and see you soon on the bands.
so that is all for today. good bye {name}, good night to everybody on the frequency. {call} is closing down now. sk
thanks, and the same to you and yours. bye {name}, 73 73 and take care. {their} de {call} sk ee
tnx {name} fer nice qso es rprt. hpe to cu agn sn. best 73 es gl. {their} de {call} sk
gm dr om es tnx fer call. ur sigs {rst} {rst} = qth {place} = name {name} = hw? {their} de {call} kn
ok dr {name}, rig {n} w, ant vert, wx fine, temp {n} c. nw qru, so 73 es tnx. {their} de {call} sk
cq cq cq from {call} {call} {call} in {place}, calling any station and standing by. k
cq dx cq dx de {call} {call} {call} dx pse k
{their} de {call} good to hear you {name}, and thank you for taking my call. you are {rst} {rst} in {place}. the operator is {name}. i pass it back to you, {their} de {call} k
{their} {their} de {call} thanks for the report. i copied everything on the first try. here is a home made transceiver, {n} watts out, and a wire loop around the roof. so {name}, how do you receive me? {their} de {call} kn
i copied your name and your report, but not where you are. the last part was covered by another signal. please say it again.
your report again is {rst} {rst}, and my location is {place} {place}. did you get it this time?
there is deep fading on your signal, it takes about half a minute from top to bottom. at the top you are as strong as a local station.
i can read you only when the signal comes up. send it twice please, then i will get it.
i have been calling for a while without an answer, so thank you for coming back. i thought that the antenna was gone.
the antenna fell down in the storm last night, so i am using a short piece of wire out of the window. it works, as you see.
i have a question about your interface. do you use a transformer, or is it connected directly? here there is always some hum.
could you look at my signal, please, and tell me if it is wide? someone told me that there are lines on both sides.
your signal is very clean, there is nothing to see beside it. it is a pleasure to read.
i turned the power down to {n} watts now. can you still read me? if so, i leave it there.
this is {n} watts now, and before it was {n}. is there any difference at your side?
when the sun goes down here, the band becomes very quiet, and after a while the far stations come up.
the opening to the west was short, but i worked four stations across the water, and one of them was new to me.
i was a member of that club when i was young. we built antennas on the roof of the school and had a lot of fun.
the young people here are interested in computers, and with this mode we can show them that radio is still alive.
i teach children on wednesday afternoon how to solder. they are quick to learn, much quicker than i was.
there is a meeting in our town in the first week of the month. about {n} people come, and most bring something to sell.
my wife has no interest in the radio, but she likes the trips to the mountains and takes pictures of birds.
we have two cats and a very old dog. the cats love to sit on the warm power supply.
the boat is in the harbour now, we are waiting for better weather. the wind was too strong for us this week.
we came here with a van and stay for {n} days. the place is at the end of a small road, near a mill.
after lunch we will drive on to {place}, so perhaps you hear me from there in the evening.
i hear children in the background, it is time for breakfast. so i must finish now. thanks for everything.
please give my greetings to your son, and tell him that i am looking forward to hearing him on the air.
it was nice to read about your work. mine was not so interesting, i sat behind a desk most of the time.
the doctor says that i should walk every day, so i take a small radio with me and sit down on every second bench.
i broke my arm last month, that is why i type with one hand only. the other one is still in plaster.
thank you, i feel much better now. getting old is not for the weak, as they say.
yes, i remember it well. those were difficult years, but we were young, and everything was possible.
it costs a lot these days to heat the house, so we cut our own wood. i have enough for two winters.
we saved some money and bought solar panels for the roof. they make some noise on the lower bands, sadly.
i found out that the noise comes from the lamp in the hall. i took it out, and now there is silence.
what a difference, the noise is gone. i should have looked for it years ago.
my receiver has a narrow filter which helps a lot when there is someone strong next to you. without it i would not hear you at all.
this software shows me all the stations at the same time. there are {n} of them at the moment, and you are the best one.
you were first in the list, so i called you first. there are others waiting, as it seems.
did you hear the station on the island last weekend? i called for two hours, and then he heard me at once with ten watts.
it was a big pile up, and he was very patient. everybody wanted him in the log.
that is all i know about it. if you want to know more, write to me, my address is easy to find.
i am not sure if i understood your question. you mean the height of the antenna, or the length?
the length is {n} meters, and the height is {n}. below it there is only grass, and a few sheep.
the ground is wet here and very good for a vertical. on sand it would not work so well.
from your side it must be the other way round, the sun comes up when it goes down here.
so you are almost on the other side of the world. i can hardly believe that this works with such a small station.
it works because we both have a quiet place. in the end it is the noise that counts, not the power.
exactly, you are right about that {name}. nothing to add from here.
bonjour buenos dias guten morgen guten tag guten abend buongiorno hola hallo ciao merci danke gracias grazie tack takk kiitos obrigado dziekuje spasibo hvala auf wiedersehen adios au revoir
monday tuesday wednesday thursday friday saturday sunday january february march april may june july august september october november december
one two three four five six seven eight nine ten eleven twelve twenty thirty fifty hundred thousand first second third
`
