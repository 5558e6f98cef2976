/** Given names and the short forms they are called by, in `spelledKey` letters. Common practice, no source. */
const calledBy: Readonly<Record<string, string>> = Object.fromEntries(
  `
  agnes aggie|alan al|albert al bert bertie|alexander alex alec sandy sasha xander sascha lex|alexandra alex sandra sasha lexi alexa
  alfred alf fred alfie|alice ali|alistair al|amanda mandy|andrew andy drew|angela angie|ann anne annie|anne ann annie|anna ann annie anne
  anthony tony ant|antonia toni|archibald archie|arthur art|barbara barb babs|bartholomew bart|beatrice bea|beatrix bea trixie
  benjamin ben benny|bernard bernie|bridget biddy bridie|caroline carrie caro|catherine cath cathy kate katie cat kitty
  katherine kate katie kath kathy kat kitty|kathleen kath kathy kay|charles charlie chuck chas|charlotte lottie charlie|christine chris chrissie tina
  christina chris chrissie tina|christian chris|christopher chris kit topher|clarence clar|claudia claud|clifford cliff|colin col
  constance connie|cornelius con neil|cynthia cindy|daniel dan danny|danielle dani|david dave davy dai|deborah deb debbie|denis den
  dennis den|desmond des|diana di|dominic dom|donald don donny|dorothy dot dotty dolly|douglas doug|edith edie|edmund ed ned eddie
  edward ed eddie ted ned teddy|edwin ed|eleanor nell ellie nora elle|elizabeth liz lizzie beth betty bess eliza libby lisa betsy
  emily em emmy|eugene gene|evelyn evie|florence flo flossie|frances fran franny|francis frank fran|francesca fran chesca
  franklin frank|frederick fred freddie|gabrielle gabby|geoffrey geoff|jeffrey jeff|george geordie|gerald gerry|gerard gerry ger
  gillian gill|gregory greg|gwendolyn gwen|harold harry hal|harriet hattie|helen nell|henry harry hank hal|herbert herb bert|horace hod
  howard howie|hubert bert hugh|ian iain|isabel izzy bel belle|isabella izzy bella|jacob jake|jacqueline jackie|james jim jimmy jamie jem
  jane janie|janet jan|jason jase|jennifer jen jenny|jeremy jem jez|jessica jess jessie|joan joanie|joanna jo|joanne jo|john jack johnny jon
  jonathan jon jonny|joseph joe joey|josephine jo josie|joshua josh|judith judy|julia jules|julian jules|justin jus|kenneth ken kenny
  kimberly kim|kristina stina kris|laura laurie|lawrence larry laurie loz|leonard len lenny leo|leonora nora|lesley les|leslie les
  lewis lew|lillian lily|louis lou louie|louise lou lulu|lucas luke|lucinda lucy cindy|madeleine maddie|magdalene maggie lena
  malcolm mal|margaret maggie meg peggy madge greta rita daisy marge|marjorie marge|martha mattie|martin marty|mary molly polly may
  matilda tilly|maud maude|ann anne|sara sarah|catherine katherine kathryn|stephen steven|jon john|geoffrey jeffrey|matthew matt|maureen mo|maurice mo|maxwell max|maximilian max|melanie mel|michael mike mick micky mickey mikey
  michelle shelly chelle|miranda mandy|miriam mim|mitchell mitch|mohammed mo|montague monty|nancy nan|natalie nat|nathan nat nate
  nathaniel nat nate|nicholas nick nicky nico|nicola nicky nic|nigel nige|norman norm|oliver ollie|olivia liv livvy|oswald oz ozzy
  pamela pam|patricia pat tricia patsy trish patty|patrick pat paddy|penelope penny|percival percy|peter pete|philip phil pip
  philippa pip pippa|prudence prue|rachel rach|ralph rafe|raymond ray|rebecca becky becca|reginald reg reggie|richard dick rich rick ricky
  robert bob rob bobby bert robbie|roberta bobbie|roderick rod|rodney rod|roger rog|roland rolly|ronald ron ronnie|rosalind ros
  rosemary rose rosie|rupert rup|russell russ|samantha sam|samuel sam sammy|sandra sandy|sarah sally sadie|sebastian seb bas|sidney sid
  sydney syd|simon si|stanley stan|stella stel|stephanie steph|stephen steve|steven steve|stewart stew|stuart stu|susan sue susie
  susanna sue susie|sylvia sylvie|terence terry|terrence terry|teresa terry tess|theresa terry tess|theodore theo ted|thomas tom tommy
  timothy tim|tobias toby tobi|ursula uschi|valerie val|veronica ronnie vera|victor vic|victoria vicky vic tori|vincent vin vince
  violet vi|virginia ginny|vivian viv|walter walt wally|wilfred wilf|wilhelmina mina|william will bill billy liam willie|winifred winnie
  yvonne vonnie|zachary zach|johannes hannes hans jo jan|johanna hanna hanne jo|josef sepp joschi|jozef jef|franz franzl|georg schorsch
  gerhard gerd gert|gertrud trude gerti|heinrich heinz heiner|wilhelm willi willy|friedrich fritz|katharina kathi kati katja|margarethe grete gretl
  matthias matze hias|michal misiek|maria mia mitzi|elisabeth lisa elli sissi lisbeth|verena vreni vroni|ulrich uli|ulrike uli ulli|wolfgang wolf
  sebastien seb|willem wim pim|hendrik henk|jacobus koos jaap|cornelis kees cor|gerrit ger|petrus piet|adrianus adri|antonius toon ton
  elisabetta betta|giuseppe beppe pino peppe|francesco franco cecco|giovanni gianni nanni|luigi gigi|salvatore totò|vincenzo enzo
  lorenzo enzo renzo|domenico mimmo|antonio toni tonino tono|francisco paco pancho kiko chico|jose pepe ze zeca|ignacio nacho|manuel manolo lolo
  enrique quique|guillermo memo|dolores lola|concepcion concha|mercedes merche|rosario charo|guadalupe lupe|isabel isa|beatriz bia bea
  luis lucho|eduardo edu dudu|roberto beto|alberto beto|antonia tona|katarzyna kasia|malgorzata gosia|jan janek jas|piotr piotrek
  krzysztof krzys|anna ania|joanna asia|agnieszka aga|aleksandra ola|aleksander olek|barbara basia|elzbieta ela|tomasz tomek|pawel pawelek
  stanislaw staszek|wojciech wojtek|zofia zosia|ewa ewka|magdalena magda|monika monia|michal michalek|karl kalle|lars lasse|nils nisse
  erik kalle|per pelle|birgitta gitta|margareta greta|kristian krister|jacques jacquot|jean jeannot|frederic fred|dominique dom|veronique vero
  guillaume gui|philippe phil|stephane steph|catherine cathy`
    .split(/[|\n]/)
    .map((line) => line.trim().split(' '))
    .filter(([name]) => name !== undefined && name !== '')
    .map(([name, ...short]) => [name!, short.join(' ')] as const)
    .reduce<[string, string][]>((all, [name, short]) => {
      const known = all.find(([each]) => each === name);
      if (known) known[1] += ` ${short}`;
      else all.push([name, short]);
      return all;
    }, []),
);

/** Whether one of two given names is what people call the other by. @example isShortFor('liz', 'elizabeth') */
export const isShortFor = (one: string, other: string): boolean =>
  Boolean(calledBy[one]?.split(' ').includes(other) || calledBy[other]?.split(' ').includes(one));
