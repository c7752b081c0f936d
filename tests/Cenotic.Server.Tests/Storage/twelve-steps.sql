BEGIN TRANSACTION;
CREATE TABLE "AspNetUserClaims" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_AspNetUserClaims" PRIMARY KEY AUTOINCREMENT,
    "UserId" TEXT NOT NULL,
    "ClaimType" TEXT NULL,
    "ClaimValue" TEXT NULL,
    CONSTRAINT "FK_AspNetUserClaims_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);
CREATE TABLE "AspNetUserLogins" (
    "LoginProvider" TEXT NOT NULL,
    "ProviderKey" TEXT NOT NULL,
    "ProviderDisplayName" TEXT NULL,
    "UserId" TEXT NOT NULL,
    CONSTRAINT "PK_AspNetUserLogins" PRIMARY KEY ("LoginProvider", "ProviderKey"),
    CONSTRAINT "FK_AspNetUserLogins_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);
CREATE TABLE "AspNetUserTokens" (
    "UserId" TEXT NOT NULL,
    "LoginProvider" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "Value" TEXT NULL,
    CONSTRAINT "PK_AspNetUserTokens" PRIMARY KEY ("UserId", "LoginProvider", "Name"),
    CONSTRAINT "FK_AspNetUserTokens_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);
CREATE TABLE "AspNetUsers" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_AspNetUsers" PRIMARY KEY,
    "UserName" TEXT NULL,
    "NormalizedUserName" TEXT NULL,
    "Email" TEXT NULL,
    "NormalizedEmail" TEXT NULL,
    "EmailConfirmed" INTEGER NOT NULL,
    "PasswordHash" TEXT NULL,
    "SecurityStamp" TEXT NULL,
    "ConcurrencyStamp" TEXT NULL,
    "PhoneNumber" TEXT NULL,
    "PhoneNumberConfirmed" INTEGER NOT NULL,
    "TwoFactorEnabled" INTEGER NOT NULL,
    "LockoutEnd" TEXT NULL,
    "LockoutEnabled" INTEGER NOT NULL,
    "AccessFailedCount" INTEGER NOT NULL
);
INSERT INTO "AspNetUsers" VALUES('38b3c0ce-1d4f-45c2-a633-90d2b9def997','keeper','KEEPER',NULL,NULL,0,'x','EYH4VKXDR63MPUG24N4ZRWRI5UPPVFHU','e383c68b-3586-4b30-bca4-6ab33eec7567',NULL,0,0,NULL,1,0);
CREATE TABLE "__EFMigrationsHistory" (
    "MigrationId" TEXT NOT NULL CONSTRAINT "PK___EFMigrationsHistory" PRIMARY KEY,
    "ProductVersion" TEXT NOT NULL
);
INSERT INTO "__EFMigrationsHistory" VALUES('20261123180430_Initial','10.0.14');
INSERT INTO "__EFMigrationsHistory" VALUES('20261125144135_Relay','10.0.14');
INSERT INTO "__EFMigrationsHistory" VALUES('20261125161800_BringUp','10.0.14');
INSERT INTO "__EFMigrationsHistory" VALUES('20261125185958_NodeReports','10.0.14');
INSERT INTO "__EFMigrationsHistory" VALUES('20261125192048_Calibrations','10.0.14');
INSERT INTO "__EFMigrationsHistory" VALUES('20261125195054_LogNotes','10.0.14');
INSERT INTO "__EFMigrationsHistory" VALUES('20261125231840_BuildAndLog','10.0.14');
INSERT INTO "__EFMigrationsHistory" VALUES('20261126012505_NoticesZonesViews','10.0.14');
INSERT INTO "__EFMigrationsHistory" VALUES('20261126061132_DerivedReadings','10.0.14');
INSERT INTO "__EFMigrationsHistory" VALUES('20261129042710_ClosedDoors','10.0.14');
INSERT INTO "__EFMigrationsHistory" VALUES('20261129110425_OutputsAndTrust','10.0.14');
INSERT INTO "__EFMigrationsHistory" VALUES('20261129141518_LivesImportsPeriods','10.0.14');
CREATE TABLE "__EFMigrationsLock" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK___EFMigrationsLock" PRIMARY KEY,
    "Timestamp" TEXT NOT NULL
);
CREATE TABLE "arrivals" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_arrivals" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "Boot" INTEGER NULL,
    "Number" INTEGER NULL,
    "ReceivedMs" INTEGER NOT NULL,
    "Bytes" INTEGER NOT NULL,
    "Rssi" REAL NULL,
    "Battery" REAL NULL
, "ClockMs" INTEGER NULL, "CorrectionMs" INTEGER NULL, "Digest" INTEGER NULL, "Import" INTEGER NULL, "Life" INTEGER NOT NULL DEFAULT 0);
INSERT INTO "arrivals" VALUES(1,'elder','drying',1,1,1795987636256,179,NULL,NULL,-1200256,NULL,-6641151818409574325,NULL,0);
INSERT INTO "arrivals" VALUES(2,'elder','drying',1,2,1795987636391,180,NULL,NULL,-1140391,NULL,-1380373827639601165,NULL,0);
INSERT INTO "arrivals" VALUES(3,'elder','drying',1,3,1795987636460,180,NULL,NULL,-1080460,NULL,5744657148905715201,NULL,0);
INSERT INTO "arrivals" VALUES(4,'elder','drying',1,4,1795987636492,180,NULL,NULL,-1020492,NULL,-4637060162497021288,NULL,0);
INSERT INTO "arrivals" VALUES(5,'elder','drying',1,5,1795987636524,180,NULL,NULL,-960524,NULL,8767080011211497983,NULL,0);
INSERT INTO "arrivals" VALUES(6,'elder','drying',1,6,1795987636587,180,NULL,NULL,-900587,NULL,2494654569842099828,NULL,0);
INSERT INTO "arrivals" VALUES(7,'elder','drying',1,7,1795987636593,180,NULL,NULL,-840593,NULL,-7856276474172472448,NULL,0);
INSERT INTO "arrivals" VALUES(8,'elder','drying',1,8,1795987636604,180,NULL,NULL,-780604,NULL,-2313853611914312168,NULL,0);
INSERT INTO "arrivals" VALUES(9,'elder','drying',1,9,1795987636616,180,NULL,NULL,-720616,NULL,1514815924088016963,NULL,0);
INSERT INTO "arrivals" VALUES(10,'elder','drying',1,10,1795987636636,181,NULL,NULL,-660636,NULL,-4580588922493391386,NULL,0);
INSERT INTO "arrivals" VALUES(11,'elder','drying',1,11,1795987636644,180,NULL,NULL,-600644,NULL,-4763140668595762144,NULL,0);
INSERT INTO "arrivals" VALUES(12,'elder','drying',1,12,1795987636661,181,NULL,NULL,-540661,NULL,411464237653736079,NULL,0);
INSERT INTO "arrivals" VALUES(13,'elder','drying',1,13,1795987636683,181,NULL,NULL,-480683,NULL,6183552121319838,NULL,0);
INSERT INTO "arrivals" VALUES(14,'elder','drying',1,14,1795987636946,181,NULL,NULL,-420946,NULL,-2511509007094739335,NULL,0);
INSERT INTO "arrivals" VALUES(15,'elder','drying',1,15,1795987636974,181,NULL,NULL,-360974,NULL,1083325855184285357,NULL,0);
INSERT INTO "arrivals" VALUES(16,'elder','drying',1,16,1795987636996,181,NULL,NULL,-300996,NULL,-2231220787248530310,NULL,0);
INSERT INTO "arrivals" VALUES(17,'elder','drying',1,17,1795987637023,181,NULL,NULL,-241023,NULL,7506908260177504742,NULL,0);
INSERT INTO "arrivals" VALUES(18,'elder','drying',1,18,1795987637035,181,NULL,NULL,-181035,NULL,-1323613105047642004,NULL,0);
INSERT INTO "arrivals" VALUES(19,'elder','drying',1,19,1795987637046,181,NULL,NULL,-121046,NULL,2272083592329452297,NULL,0);
INSERT INTO "arrivals" VALUES(20,'elder','drying',1,20,1795987637055,180,NULL,NULL,-61055,NULL,-529731819991769595,NULL,0);
CREATE TABLE "build_ticks" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_build_ticks" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "Step" TEXT NOT NULL,
    "Title" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Who" TEXT NOT NULL,
    "Done" INTEGER NOT NULL,
    "Took" TEXT NULL,
    "Shows" TEXT NULL,
    "Value" REAL NULL,
    CONSTRAINT "FK_build_ticks_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "calibrations" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_calibrations" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "Reading" TEXT NOT NULL,
    "ReadingId" INTEGER NOT NULL,
    "FromMs" INTEGER NOT NULL,
    "UntilMs" INTEGER NULL,
    "AtMs" INTEGER NOT NULL,
    "Who" TEXT NOT NULL,
    "Body" TEXT NOT NULL,
    "Against" TEXT NOT NULL,
    "Fitted" TEXT NOT NULL,
    "DueMs" INTEGER NULL,
    "UndoneMs" INTEGER NULL,
    "UndoneBy" TEXT NULL,
    CONSTRAINT "FK_calibrations_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "commands" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_commands" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "Output" TEXT NOT NULL,
    "On" INTEGER NOT NULL,
    "Who" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "UntilMs" INTEGER NOT NULL,
    "AnsweredMs" INTEGER NULL,
    "Taken" INTEGER NULL,
    "EndedMs" INTEGER NULL,
    "Ended" TEXT NULL, "Over" TEXT NULL,
    CONSTRAINT "FK_commands_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "derived_states" (
    "Site" TEXT NOT NULL,
    "Key" TEXT NOT NULL,
    "From" TEXT NOT NULL,
    "State" TEXT NOT NULL,
    "Arrival" INTEGER NOT NULL,
    CONSTRAINT "PK_derived_states" PRIMARY KEY ("Site", "Key"),
    CONSTRAINT "FK_derived_states_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "documents" (
    "Site" TEXT NOT NULL,
    "Key" TEXT NOT NULL,
    "Position" INTEGER NOT NULL,
    "FormatVersion" INTEGER NOT NULL,
    "Body" TEXT NOT NULL,
    CONSTRAINT "PK_documents" PRIMARY KEY ("Site", "Key"),
    CONSTRAINT "FK_documents_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
INSERT INTO "documents" VALUES('elder','place',1,1,'{"rooms":[{"key":"hall","label":"Hall","corners":[{"x":0,"y":0},{"x":4,"y":0},{"x":4,"y":2.6},{"x":0,"y":2.6}],"tags":[]},{"key":"kitchen","label":"Kitchen","corners":[{"x":4,"y":0},{"x":8.4,"y":0},{"x":8.4,"y":4.2},{"x":4,"y":4.2}],"tags":[]},{"key":"landing","label":"Stair and landing","corners":[{"x":0,"y":2.6},{"x":4,"y":2.6},{"x":4,"y":4.2},{"x":0,"y":4.2}],"tags":["sleeping"]},{"key":"pottery","label":"Pottery","corners":[{"x":11,"y":0.4},{"x":15.2,"y":0.4},{"x":15.2,"y":3.8},{"x":11,"y":3.8}],"tags":["dusty"]},{"key":"drying-room","label":"Drying room","corners":[{"x":11,"y":3.8},{"x":15.2,"y":3.8},{"x":15.2,"y":6.8},{"x":11,"y":6.8}],"tags":["wet"]},{"key":"garden","label":"Garden","corners":[{"x":0,"y":4.2},{"x":10.4,"y":4.2},{"x":10.4,"y":9.600000000000001},{"x":0,"y":9.600000000000001}],"tags":["outdoor"]},{"key":"kiln-shed","label":"Kiln shed","corners":[{"x":11,"y":7.6},{"x":15.2,"y":7.6},{"x":15.2,"y":9.6},{"x":11,"y":9.6}],"tags":["hot","dusty"]}],"walls":[],"spots":[{"key":"hall-wall","label":"Hall wall","room":"hall","x":0.3,"y":1.3,"heightMetres":2,"facingDegrees":90},{"key":"drying-rack","label":"Rack in the drying room","room":"drying-room","x":14.2,"y":5.4,"heightMetres":1.6,"facingDegrees":270},{"key":"cistern-lid","label":"Cistern lid","room":"garden","x":7.6,"y":8.2,"heightMetres":0.4,"facingDegrees":0},{"key":"kiln-shelf","label":"Kiln shelf","room":"pottery","x":11.6,"y":1.2,"heightMetres":1.2,"facingDegrees":90},{"key":"landing-shelf","label":"Landing shelf","room":"landing","x":2,"y":3.4,"heightMetres":1.2,"facingDegrees":180},{"key":"glaze-shelf","label":"Glaze shelf","room":"pottery","x":14.2,"y":1.4,"heightMetres":1.6,"facingDegrees":180},{"key":"gate-box","label":"Parcel box at the gate","room":"garden","x":0.6,"y":9,"heightMetres":1.1,"facingDegrees":180},{"key":"mast-top","label":"Rain mast","room":"garden","x":5.2,"y":5.2,"heightMetres":2.4,"facingDegrees":0},{"key":"kiln-wall","label":"Kiln shed wall","room":"kiln-shed","x":11.4,"y":8.6,"heightMetres":1.6,"facingDegrees":90},{"key":"kitchen-sill","label":"Kitchen window sill","room":"kitchen","x":7.3,"y":2,"heightMetres":1.1,"facingDegrees":270}]}');
INSERT INTO "documents" VALUES('elder','site',0,1,'{"name":"Fernhollow","timeZone":"Europe/London","region":"unset","keeping":null}');
INSERT INTO "documents" VALUES('elder','node:drying',2,1,'{"key":"drying","label":"Drying room","spot":"drying-rack","board":"esp32-dev-38","power":{"kind":"fiveVolt","cell":null,"parallel":1,"stepUp":false,"module":null,"twelveVoltStepUp":false,"fuseAmps":null,"reverseGuard":false,"surgeGuard":false,"leadMetres":0,"leadAwg":null,"alsoUsb":false,"backfeedGuard":false,"charger":null,"chargerMeasuresCell":false,"cellCutOff":true,"series":1,"fittedOn":null,"harvest":null,"ratedAmps":null,"vehicle":false,"rails":null},"link":"wifi","sleeps":false,"measuresSupply":false,"parts":[{"key":"air","label":"Air sensor","part":"bme280","interface":null,"address":null,"leadMetres":0.3,"switchSupply":false,"bits":null,"rom":null,"variant":null},{"key":"rack1","label":"Rack probe 1","part":"ds18b20","interface":null,"address":null,"leadMetres":1.5,"switchSupply":false,"bits":12,"rom":null,"variant":null},{"key":"rack2","label":"Rack probe 2","part":"ds18b20","interface":null,"address":null,"leadMetres":1.5,"switchSupply":false,"bits":12,"rom":null,"variant":null},{"key":"rack3","label":"Rack probe 3","part":"ds18b20","interface":null,"address":null,"leadMetres":1.5,"switchSupply":false,"bits":12,"rom":null,"variant":null},{"key":"rack4","label":"Rack probe 4","part":"ds18b20","interface":null,"address":null,"leadMetres":1.5,"switchSupply":false,"bits":12,"rom":null,"variant":null},{"key":"fan","label":"Fan relay","part":"relay-5v-1ch","interface":null,"address":null,"leadMetres":0.2,"switchSupply":false,"bits":null,"rom":null,"variant":null}],"wires":[],"readings":[{"key":"temp","label":"Air temperature","part":"air","quantity":"temperature","intervalMs":10000,"heartbeatMs":null,"decimals":1,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"rh","label":"Air humidity","part":"air","quantity":"humidity","intervalMs":10000,"heartbeatMs":null,"decimals":0,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"pressure","label":"Air pressure","part":"air","quantity":"pressure","intervalMs":60000,"heartbeatMs":null,"decimals":1,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"rack1","label":"Rack 1 temperature","part":"rack1","quantity":"temperature","intervalMs":10000,"heartbeatMs":null,"decimals":2,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"rack2","label":"Rack 2 temperature","part":"rack2","quantity":"temperature","intervalMs":10000,"heartbeatMs":null,"decimals":2,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"rack3","label":"Rack 3 temperature","part":"rack3","quantity":"temperature","intervalMs":10000,"heartbeatMs":null,"decimals":2,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"rack4","label":"Rack 4 temperature","part":"rack4","quantity":"temperature","intervalMs":10000,"heartbeatMs":null,"decimals":2,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"fan","label":"Fan","part":"fan","quantity":"relay","intervalMs":null,"heartbeatMs":60000,"decimals":0,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":{"load":"fan","maxOnMs":7200000,"serverSilentMs":null}}],"addsModules":true,"housing":{"vented":false,"sealed":true,"clearLid":false},"sending":null,"via":null,"correctsItself":false}');
INSERT INTO "documents" VALUES('elder','node:gateway',3,1,'{"key":"gateway","label":"Gateway","spot":"kitchen-sill","board":"esp32-dev-38","power":{"kind":"usb","cell":null,"parallel":1,"stepUp":false,"module":null,"twelveVoltStepUp":false,"fuseAmps":null,"reverseGuard":false,"surgeGuard":false,"leadMetres":0,"leadAwg":null,"alsoUsb":false,"backfeedGuard":false,"charger":null,"chargerMeasuresCell":false,"cellCutOff":true,"series":1,"fittedOn":null,"harvest":null,"ratedAmps":null,"vehicle":false,"rails":null},"link":"wifi","sleeps":false,"measuresSupply":false,"parts":[{"key":"radio","label":"Long-range radio","part":"lora-sx1276","interface":null,"address":null,"leadMetres":0.1,"switchSupply":false,"bits":null,"rom":null,"variant":null},{"key":"sounder","label":"Sounder","part":"piezo-passive","interface":null,"address":null,"leadMetres":0.2,"switchSupply":false,"bits":null,"rom":null,"variant":null}],"wires":[],"readings":[{"key":"sounder","label":"Sounder","part":"sounder","quantity":"tone","intervalMs":null,"heartbeatMs":60000,"decimals":0,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":{"load":"sounder","maxOnMs":180000,"serverSilentMs":300000}}],"addsModules":true,"housing":{"vented":true,"sealed":false,"clearLid":false},"sending":null,"via":null,"correctsItself":false}');
INSERT INTO "documents" VALUES('elder','part:spring-vibration',7,1,'{"id":"spring-vibration","label":"Spring vibration switch, bare","kind":"sensor","quantities":[{"quantity":"vibration","kind":"event","unit":"","accuracy":"one knock closes it for some milliseconds","min":0,"max":1,"resolution":null,"error":null,"errorPercent":null}],"interfaces":[{"kind":"contact","label":"dry contact","lines":[{"name":"A","role":"contact","drive":"contact","atStart":"either","highVolts":null,"edge":true,"load":false,"activeLow":false,"floatsToSupply":false,"optional":false,"note":null,"timed":false,"pwm":false,"openDrain":false,"gate":false,"maxVolts":null,"highAtLeastOfSupply":null,"milliamps":null,"inductive":false,"forwardVolts":null,"seriesOhms":null,"lowVolts":null,"sourceOhms":null,"highAtLeastVolts":null}],"quantities":null,"addresses":null,"maxKilohertz":null,"bitsPerReading":null,"baud":null,"strap":null,"alsoAddresses":null,"startAddress":null,"exclusiveBus":false,"resistive":null}],"supplyMinVolts":null,"supplyMaxVolts":null,"staysOn":false,"sleepMicroamps":{"min":0,"typ":0,"max":1,"source":"invented for the demo","confidence":"prudent","likely":0,"low":0,"high":1},"activeMilliamps":null,"peakMilliamps":null,"warmUpMs":null,"conversionMs":null,"conversionByBits":null,"minIntervalMs":null,"pullUpOhms":null,"pins":["A","B"],"supplyPin":null,"groundPin":"B","modem":null,"needs":["pull-up, debounce of 5 ms"],"placement":["fixed firmly to what is knocked"],"faults":[],"cautions":[],"source":"Invented for the demo.","peakMs":null,"bulkMicrofarads":null,"helper":null,"discardReadings":0,"display":null,"uses":null,"leds":null,"opto":null}');
INSERT INTO "documents" VALUES('elder','person:bram',9,1,'{"key":"bram","name":"Bram","ways":[{"kind":"text","address":"+441632960177"}],"quiet":null}');
INSERT INTO "documents" VALUES('elder','person:ottilie',8,1,'{"key":"ottilie","name":"Ottilie","ways":[{"kind":"mail","address":"ottilie@fernhollow.example"},{"kind":"text","address":"+441632960155"}],"quiet":{"fromMinute":1350,"toMinute":390,"days":["monday","tuesday","wednesday","thursday","friday","saturday","sunday"]}}');
INSERT INTO "documents" VALUES('elder','rule:drying-damp',5,1,'{"key":"drying-damp","label":"Drying room damp","node":"drying","reading":"rh","condition":{"kind":"beyondLimit","side":"above","limit":75,"clear":70,"forMs":600000},"note":"Check the fan; turn the pots.","armed":true,"wantedWithinMs":null,"tell":{"steps":[{"person":"ottilie","afterMs":0}],"remindEveryMs":null,"throughQuiet":false,"whenOver":false,"damped":null},"acts":[{"node":"drying","output":"fan","while":"raised","forMs":null}],"join":"all","also":[]}');
INSERT INTO "documents" VALUES('elder','rule:drying-stalls',6,1,'{"key":"drying-stalls","label":"Drying stalls","node":"drying","reading":"rh","condition":{"kind":"beyondLimit","side":"above","limit":72,"clear":68,"forMs":1800000},"note":"Damp, and the fan has not run: switch it on, or open the vent.","armed":true,"wantedWithinMs":null,"tell":null,"acts":[],"join":"all","also":[{"reading":{"node":"drying","reading":"fan"},"condition":{"kind":"beyondLimit","side":"below","limit":0.5,"clear":0.5,"forMs":0}}]}');
INSERT INTO "documents" VALUES('elder','rule:rack-too-warm',4,1,'{"key":"rack-too-warm","label":"Rack 1 too warm","node":"drying","reading":"rack1","condition":{"kind":"beyondLimit","side":"above","limit":32,"clear":30,"forMs":0},"note":"Open the vent and turn the fan on.","armed":true,"wantedWithinMs":null,"tell":{"steps":[{"person":"ottilie","afterMs":0}],"remindEveryMs":3600000,"throughQuiet":false,"whenOver":true,"damped":null},"acts":[],"join":"all","also":[]}');
CREATE TABLE "due_feeds" (
    "Site" TEXT NOT NULL CONSTRAINT "PK_due_feeds" PRIMARY KEY,
    "Hash" TEXT NOT NULL,
    "CreatedMs" INTEGER NOT NULL,
    "Who" TEXT NOT NULL,
    CONSTRAINT "FK_due_feeds_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "episodes" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_episodes" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Rule" TEXT NOT NULL,
    "Label" TEXT NOT NULL,
    "RaisedMs" INTEGER NOT NULL,
    "Value" REAL NULL,
    "ClearedMs" INTEGER NULL,
    "AcknowledgedMs" INTEGER NULL,
    "AcknowledgedBy" TEXT NULL,
    "Late" INTEGER NOT NULL, "AcknowledgedNote" TEXT NULL, "Cause" TEXT NULL, "Damped" INTEGER NOT NULL DEFAULT 0, "ToldAll" INTEGER NOT NULL DEFAULT 1, "ToldUntilMs" INTEGER NOT NULL DEFAULT 0,
    CONSTRAINT "FK_episodes_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
INSERT INTO "episodes" VALUES(1,'elder','rack-too-warm','Rack 1 too warm',1795987456000,32.5,NULL,NULL,NULL,0,NULL,NULL,0,0,1795987637214);
CREATE TABLE "imports" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_imports" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "FileName" TEXT NOT NULL,
    "Digest" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Who" TEXT NOT NULL,
    "Samples" INTEGER NOT NULL,
    "UndoneMs" INTEGER NULL,
    "UndoneBy" TEXT NULL,
    CONSTRAINT "FK_imports_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "log_notes" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_log_notes" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NULL,
    "AtMs" INTEGER NOT NULL,
    "Who" TEXT NOT NULL,
    "Text" TEXT NOT NULL,
    CONSTRAINT "FK_log_notes_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "log_pictures" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_log_pictures" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Note" INTEGER NOT NULL,
    "Type" TEXT NOT NULL,
    "Body" BLOB NOT NULL,
    CONSTRAINT "FK_log_pictures_log_notes_Note" FOREIGN KEY ("Note") REFERENCES "log_notes" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_log_pictures_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "measured_currents" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_measured_currents" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "State" TEXT NOT NULL,
    "Milliamps" REAL NOT NULL,
    "How" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    CONSTRAINT "FK_measured_currents_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "memberships" (
    "Site" TEXT NOT NULL,
    "AccountId" TEXT NOT NULL,
    "Role" TEXT NOT NULL, "MayAct" INTEGER NOT NULL DEFAULT 0,
    CONSTRAINT "PK_memberships" PRIMARY KEY ("Site", "AccountId"),
    CONSTRAINT "FK_memberships_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
INSERT INTO "memberships" VALUES('elder','38b3c0ce-1d4f-45c2-a633-90d2b9def997','Owner',0);
CREATE TABLE "node_keys" (
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "Hash" TEXT NOT NULL,
    "CreatedMs" INTEGER NOT NULL,
    CONSTRAINT "PK_node_keys" PRIMARY KEY ("Site", "Node"),
    CONSTRAINT "FK_node_keys_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
INSERT INTO "node_keys" VALUES('elder','drying','8f57c8286d0382ebec1166fef899d5a0b320c289d936e0c959b88e6278cce7c2',1795987636221);
CREATE TABLE "node_lives" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_node_lives" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "Life" INTEGER NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Times" INTEGER NOT NULL,
    "BeforeBoot" INTEGER NOT NULL,
    "BeforeNumber" INTEGER NOT NULL,
    "Boot" INTEGER NOT NULL,
    "Number" INTEGER NOT NULL,
    CONSTRAINT "FK_node_lives_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "node_reports" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_node_reports" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Boot" INTEGER NULL,
    "Firmware" TEXT NULL,
    "Settings" TEXT NULL,
    "Reset" TEXT NULL,
    "SupplyVolts" REAL NULL,
    "FreeBytes" INTEGER NULL,
    CONSTRAINT "FK_node_reports_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "node_status" (
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "Up" INTEGER NULL,
    "UpMs" INTEGER NULL,
    "CorrectionMs" INTEGER NULL,
    "CorrectionAtMs" INTEGER NULL, "RepeatMs" INTEGER NULL, "Repeats" INTEGER NOT NULL DEFAULT 0,
    CONSTRAINT "PK_node_status" PRIMARY KEY ("Site", "Node"),
    CONSTRAINT "FK_node_status_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "notice_settings" (
    "Site" TEXT NOT NULL CONSTRAINT "PK_notice_settings" PRIMARY KEY,
    "MailHost" TEXT NULL,
    "MailPort" INTEGER NOT NULL,
    "MailTls" INTEGER NOT NULL,
    "MailFrom" TEXT NULL,
    "MailUser" TEXT NULL,
    "MailPassword" TEXT NULL,
    "TextUrl" TEXT NULL,
    "TextKey" TEXT NULL,
    "WebhookSecret" TEXT NOT NULL,
    "HomeNetworks" TEXT NOT NULL,
    CONSTRAINT "FK_notice_settings_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
INSERT INTO "notice_settings" VALUES('elder',NULL,587,0,NULL,NULL,NULL,NULL,NULL,'CfDJ8PvgSNdomkJNmIPBAdYDtdetMd33jqyfDlYVH9EaCuQIGadRUM2K2hOHQwbF_zusJ3LxycwCmP7_4WNUvgbbNSmI_Yy6oyo9FywDeNS_pVgASekQZ5iyf1JozhKFp_PwvU0APffpZEWrjahwrq70fksw1BMXMF1ALIzN9Q7mKETeni-QWsmzeiTK1UBiCGL2Oo_z1Ex4QLeSbh-c3Uh4sDs','');
CREATE TABLE "outages" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_outages" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "FromMs" INTEGER NOT NULL,
    "ToMs" INTEGER NOT NULL,
    CONSTRAINT "FK_outages_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "outbox" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_outbox" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Person" TEXT NOT NULL,
    "Way" TEXT NOT NULL,
    "Address" TEXT NOT NULL,
    "MessageId" TEXT NOT NULL,
    "Notices" TEXT NOT NULL,
    "CreatedMs" INTEGER NOT NULL,
    "NotBeforeMs" INTEGER NOT NULL,
    "Tries" INTEGER NOT NULL,
    "HandingMs" INTEGER NULL,
    "DoneMs" INTEGER NULL,
    "Taken" INTEGER NOT NULL,
    "Result" TEXT NULL,
    "MaybeTwice" INTEGER NOT NULL,
    CONSTRAINT "FK_outbox_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
INSERT INTO "outbox" VALUES(1,'elder','ottilie','Mail','ottilie@fernhollow.example','8b5e8d6d7d2e685f872e8de0bc8802d9','[{"notice":{"kind":"raised","number":0,"person":"ottilie","atMs":1795987456000,"step":"raised"},"label":"Rack 1 too warm","where":"Drying room (Drying room)","howFar":"32.50 °C, above 32 °C","toDo":"Open the vent and turn the fan on.","raisedMs":1795987456000,"clearedMs":null,"late":false,"damped":false}]',1795987637310,1795987644607,1,NULL,NULL,0,'No mail server is set; the owner sets it under Alerts.',0);
INSERT INTO "outbox" VALUES(2,'elder','ottilie','Text','+441632960155','1983d1896767ca9a54ac7bbf51421210','[{"notice":{"kind":"raised","number":0,"person":"ottilie","atMs":1795987456000,"step":"raised"},"label":"Rack 1 too warm","where":"Drying room (Drying room)","howFar":"32.50 °C, above 32 °C","toDo":"Open the vent and turn the fan on.","raisedMs":1795987456000,"clearedMs":null,"late":false,"damped":false}]',1795987637310,1795987644572,1,NULL,NULL,0,'No gateway for text messages is set; the owner sets it under Alerts.',0);
CREATE TABLE "outbox_episodes" (
    "Outbox" INTEGER NOT NULL,
    "Episode" INTEGER NOT NULL,
    "Step" TEXT NOT NULL,
    CONSTRAINT "PK_outbox_episodes" PRIMARY KEY ("Outbox", "Episode", "Step"),
    CONSTRAINT "FK_outbox_episodes_outbox_Outbox" FOREIGN KEY ("Outbox") REFERENCES "outbox" ("Id") ON DELETE CASCADE
);
INSERT INTO "outbox_episodes" VALUES(1,1,'raised');
INSERT INTO "outbox_episodes" VALUES(2,1,'raised');
CREATE TABLE "range_walks" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_range_walks" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "Spot" TEXT NOT NULL,
    "Who" TEXT NOT NULL,
    "FromMs" INTEGER NOT NULL,
    "ToMs" INTEGER NOT NULL,
    "Heard" INTEGER NOT NULL,
    "Lost" INTEGER NOT NULL,
    "RssiMedian" REAL NULL,
    "RssiLow" REAL NULL,
    CONSTRAINT "FK_range_walks_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "readings" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_readings" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "Key" TEXT NOT NULL,
    "Kind" TEXT NOT NULL,
    CONSTRAINT "FK_readings_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
INSERT INTO "readings" VALUES(1,'elder','drying','temp','Gauge');
INSERT INTO "readings" VALUES(2,'elder','drying','rh','Gauge');
INSERT INTO "readings" VALUES(3,'elder','drying','pressure','Gauge');
INSERT INTO "readings" VALUES(4,'elder','drying','rack1','Gauge');
INSERT INTO "readings" VALUES(5,'elder','drying','rack2','Gauge');
INSERT INTO "readings" VALUES(6,'elder','drying','rack3','Gauge');
INSERT INTO "readings" VALUES(7,'elder','drying','rack4','Gauge');
INSERT INTO "readings" VALUES(8,'elder','drying','fan','State');
INSERT INTO "readings" VALUES(9,'elder','gateway','sounder','State');
CREATE TABLE "refusals" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_refusals" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Reason" TEXT NOT NULL,
    "Excerpt" TEXT NOT NULL
, "Count" INTEGER NOT NULL DEFAULT 1);
CREATE TABLE "revisions" (
    "Site" TEXT NOT NULL,
    "Revision" INTEGER NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Who" TEXT NOT NULL,
    "Edits" TEXT NOT NULL,
    "Inverse" TEXT NOT NULL,
    "Documents" TEXT NOT NULL,
    "DocumentsAfter" TEXT NOT NULL,
    CONSTRAINT "PK_revisions" PRIMARY KEY ("Site", "Revision"),
    CONSTRAINT "FK_revisions_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
INSERT INTO "revisions" VALUES('elder',2,1795987623746,'owner','[{"kind":"putRoom","room":{"key":"hall","label":"Hall","corners":[{"x":0,"y":0},{"x":4,"y":0},{"x":4,"y":2.6},{"x":0,"y":2.6}],"tags":[]}},{"kind":"putRoom","room":{"key":"kitchen","label":"Kitchen","corners":[{"x":4,"y":0},{"x":8.4,"y":0},{"x":8.4,"y":4.2},{"x":4,"y":4.2}],"tags":[]}},{"kind":"putRoom","room":{"key":"landing","label":"Stair and landing","corners":[{"x":0,"y":2.6},{"x":4,"y":2.6},{"x":4,"y":4.2},{"x":0,"y":4.2}],"tags":["sleeping"]}},{"kind":"putRoom","room":{"key":"pottery","label":"Pottery","corners":[{"x":11,"y":0.4},{"x":15.2,"y":0.4},{"x":15.2,"y":3.8},{"x":11,"y":3.8}],"tags":["dusty"]}},{"kind":"putRoom","room":{"key":"drying-room","label":"Drying room","corners":[{"x":11,"y":3.8},{"x":15.2,"y":3.8},{"x":15.2,"y":6.8},{"x":11,"y":6.8}],"tags":["wet"]}},{"kind":"putRoom","room":{"key":"garden","label":"Garden","corners":[{"x":0,"y":4.2},{"x":10.4,"y":4.2},{"x":10.4,"y":9.600000000000001},{"x":0,"y":9.600000000000001}],"tags":["outdoor"]}},{"kind":"putRoom","room":{"key":"kiln-shed","label":"Kiln shed","corners":[{"x":11,"y":7.6},{"x":15.2,"y":7.6},{"x":15.2,"y":9.6},{"x":11,"y":9.6}],"tags":["hot","dusty"]}},{"kind":"putSpot","spot":{"key":"hall-wall","label":"Hall wall","room":"hall","x":0.3,"y":1.3,"heightMetres":2,"facingDegrees":90}},{"kind":"putSpot","spot":{"key":"drying-rack","label":"Rack in the drying room","room":"drying-room","x":14.2,"y":5.4,"heightMetres":1.6,"facingDegrees":270}},{"kind":"putSpot","spot":{"key":"cistern-lid","label":"Cistern lid","room":"garden","x":7.6,"y":8.2,"heightMetres":0.4,"facingDegrees":0}},{"kind":"putSpot","spot":{"key":"kiln-shelf","label":"Kiln shelf","room":"pottery","x":11.6,"y":1.2,"heightMetres":1.2,"facingDegrees":90}},{"kind":"putSpot","spot":{"key":"landing-shelf","label":"Landing shelf","room":"landing","x":2,"y":3.4,"heightMetres":1.2,"facingDegrees":180}},{"kind":"putSpot","spot":{"key":"glaze-shelf","label":"Glaze shelf","room":"pottery","x":14.2,"y":1.4,"heightMetres":1.6,"facingDegrees":180}},{"kind":"putSpot","spot":{"key":"gate-box","label":"Parcel box at the gate","room":"garden","x":0.6,"y":9,"heightMetres":1.1,"facingDegrees":180}},{"kind":"putSpot","spot":{"key":"mast-top","label":"Rain mast","room":"garden","x":5.2,"y":5.2,"heightMetres":2.4,"facingDegrees":0}},{"kind":"putSpot","spot":{"key":"kiln-wall","label":"Kiln shed wall","room":"kiln-shed","x":11.4,"y":8.6,"heightMetres":1.6,"facingDegrees":90}},{"kind":"putSpot","spot":{"key":"kitchen-sill","label":"Kitchen window sill","room":"kitchen","x":7.3,"y":2,"heightMetres":1.1,"facingDegrees":270}},{"kind":"putPerson","person":{"key":"ottilie","name":"Ottilie","ways":[{"kind":"mail","address":"ottilie@fernhollow.example"},{"kind":"text","address":"+441632960155"}],"quiet":{"fromMinute":1350,"toMinute":390,"days":["monday","tuesday","wednesday","thursday","friday","saturday","sunday"]}}},{"kind":"putPerson","person":{"key":"bram","name":"Bram","ways":[{"kind":"text","address":"+441632960177"}],"quiet":null}},{"kind":"putOwnPart","part":{"id":"spring-vibration","label":"Spring vibration switch, bare","kind":"sensor","quantities":[{"quantity":"vibration","kind":"event","unit":"","accuracy":"one knock closes it for some milliseconds","min":0,"max":1,"resolution":null,"error":null,"errorPercent":null}],"interfaces":[{"kind":"contact","label":"dry contact","lines":[{"name":"A","role":"contact","drive":"contact","atStart":"either","highVolts":null,"edge":true,"load":false,"activeLow":false,"floatsToSupply":false,"optional":false,"note":null,"timed":false,"pwm":false,"openDrain":false,"gate":false,"maxVolts":null,"highAtLeastOfSupply":null,"milliamps":null,"inductive":false,"forwardVolts":null,"seriesOhms":null,"lowVolts":null,"sourceOhms":null,"highAtLeastVolts":null}],"quantities":null,"addresses":null,"maxKilohertz":null,"bitsPerReading":null,"baud":null,"strap":null,"alsoAddresses":null,"startAddress":null,"exclusiveBus":false,"resistive":null}],"supplyMinVolts":null,"supplyMaxVolts":null,"staysOn":false,"sleepMicroamps":{"min":0,"typ":0,"max":1,"source":"invented for the demo","confidence":"prudent","likely":0,"low":0,"high":1},"activeMilliamps":null,"peakMilliamps":null,"warmUpMs":null,"conversionMs":null,"conversionByBits":null,"minIntervalMs":null,"pullUpOhms":null,"pins":["A","B"],"supplyPin":null,"groundPin":"B","modem":null,"needs":["pull-up, debounce of 5 ms"],"placement":["fixed firmly to what is knocked"],"faults":[],"cautions":[],"source":"Invented for the demo.","peakMs":null,"bulkMicrofarads":null,"helper":null,"discardReadings":0,"display":null,"uses":null,"leds":null,"opto":null}},{"kind":"putNode","design":{"key":"drying","label":"Drying room","spot":"drying-rack","board":"esp32-dev-38","power":{"kind":"fiveVolt","cell":null,"parallel":1,"stepUp":false,"module":null,"twelveVoltStepUp":false,"fuseAmps":null,"reverseGuard":false,"surgeGuard":false,"leadMetres":0,"leadAwg":null,"alsoUsb":false,"backfeedGuard":false,"charger":null,"chargerMeasuresCell":false,"cellCutOff":true,"series":1,"fittedOn":null,"harvest":null,"ratedAmps":null,"vehicle":false,"rails":null},"link":"wifi","sleeps":false,"measuresSupply":false,"parts":[{"key":"air","label":"Air sensor","part":"bme280","interface":null,"address":null,"leadMetres":0.3,"switchSupply":false,"bits":null,"rom":null,"variant":null},{"key":"rack1","label":"Rack probe 1","part":"ds18b20","interface":null,"address":null,"leadMetres":1.5,"switchSupply":false,"bits":12,"rom":null,"variant":null},{"key":"rack2","label":"Rack probe 2","part":"ds18b20","interface":null,"address":null,"leadMetres":1.5,"switchSupply":false,"bits":12,"rom":null,"variant":null},{"key":"rack3","label":"Rack probe 3","part":"ds18b20","interface":null,"address":null,"leadMetres":1.5,"switchSupply":false,"bits":12,"rom":null,"variant":null},{"key":"rack4","label":"Rack probe 4","part":"ds18b20","interface":null,"address":null,"leadMetres":1.5,"switchSupply":false,"bits":12,"rom":null,"variant":null},{"key":"fan","label":"Fan relay","part":"relay-5v-1ch","interface":null,"address":null,"leadMetres":0.2,"switchSupply":false,"bits":null,"rom":null,"variant":null}],"wires":[],"readings":[{"key":"temp","label":"Air temperature","part":"air","quantity":"temperature","intervalMs":10000,"heartbeatMs":null,"decimals":1,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"rh","label":"Air humidity","part":"air","quantity":"humidity","intervalMs":10000,"heartbeatMs":null,"decimals":0,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"pressure","label":"Air pressure","part":"air","quantity":"pressure","intervalMs":60000,"heartbeatMs":null,"decimals":1,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"rack1","label":"Rack 1 temperature","part":"rack1","quantity":"temperature","intervalMs":10000,"heartbeatMs":null,"decimals":2,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"rack2","label":"Rack 2 temperature","part":"rack2","quantity":"temperature","intervalMs":10000,"heartbeatMs":null,"decimals":2,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"rack3","label":"Rack 3 temperature","part":"rack3","quantity":"temperature","intervalMs":10000,"heartbeatMs":null,"decimals":2,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"rack4","label":"Rack 4 temperature","part":"rack4","quantity":"temperature","intervalMs":10000,"heartbeatMs":null,"decimals":2,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":null},{"key":"fan","label":"Fan","part":"fan","quantity":"relay","intervalMs":null,"heartbeatMs":60000,"decimals":0,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":{"load":"fan","maxOnMs":7200000,"serverSilentMs":null}}],"addsModules":true,"housing":{"vented":false,"sealed":true,"clearLid":false},"sending":null,"via":null,"correctsItself":false},"node":"drying"},{"kind":"putNode","design":{"key":"gateway","label":"Gateway","spot":"kitchen-sill","board":"esp32-dev-38","power":{"kind":"usb","cell":null,"parallel":1,"stepUp":false,"module":null,"twelveVoltStepUp":false,"fuseAmps":null,"reverseGuard":false,"surgeGuard":false,"leadMetres":0,"leadAwg":null,"alsoUsb":false,"backfeedGuard":false,"charger":null,"chargerMeasuresCell":false,"cellCutOff":true,"series":1,"fittedOn":null,"harvest":null,"ratedAmps":null,"vehicle":false,"rails":null},"link":"wifi","sleeps":false,"measuresSupply":false,"parts":[{"key":"radio","label":"Long-range radio","part":"lora-sx1276","interface":null,"address":null,"leadMetres":0.1,"switchSupply":false,"bits":null,"rom":null,"variant":null},{"key":"sounder","label":"Sounder","part":"piezo-passive","interface":null,"address":null,"leadMetres":0.2,"switchSupply":false,"bits":null,"rom":null,"variant":null}],"wires":[],"readings":[{"key":"sounder","label":"Sounder","part":"sounder","quantity":"tone","intervalMs":null,"heartbeatMs":60000,"decimals":0,"batchOf":1,"wantedWithinMs":null,"perDay":null,"output":{"load":"sounder","maxOnMs":180000,"serverSilentMs":300000}}],"addsModules":true,"housing":{"vented":true,"sealed":false,"clearLid":false},"sending":null,"via":null,"correctsItself":false},"node":"gateway"},{"kind":"putRule","rule":{"key":"rack-too-warm","label":"Rack 1 too warm","node":"drying","reading":"rack1","condition":{"kind":"beyondLimit","side":"above","limit":32,"clear":30,"forMs":0},"note":"Open the vent and turn the fan on.","armed":true,"wantedWithinMs":null,"tell":{"steps":[{"person":"ottilie","afterMs":0}],"remindEveryMs":3600000,"throughQuiet":false,"whenOver":true,"damped":null},"acts":[],"join":"all","also":[]}},{"kind":"putRule","rule":{"key":"drying-damp","label":"Drying room damp","node":"drying","reading":"rh","condition":{"kind":"beyondLimit","side":"above","limit":75,"clear":70,"forMs":600000},"note":"Check the fan; turn the pots.","armed":true,"wantedWithinMs":null,"tell":{"steps":[{"person":"ottilie","afterMs":0}],"remindEveryMs":null,"throughQuiet":false,"whenOver":false,"damped":null},"acts":[{"node":"drying","output":"fan","while":"raised","forMs":null}],"join":"all","also":[]}},{"kind":"putRule","rule":{"key":"drying-stalls","label":"Drying stalls","node":"drying","reading":"rh","condition":{"kind":"beyondLimit","side":"above","limit":72,"clear":68,"forMs":1800000},"note":"Damp, and the fan has not run: switch it on, or open the vent.","armed":true,"wantedWithinMs":null,"tell":null,"acts":[],"join":"all","also":[{"reading":{"node":"drying","reading":"fan"},"condition":{"kind":"beyondLimit","side":"below","limit":0.5,"clear":0.5,"forMs":0}}]}}]','[{"kind":"removeRule","key":"drying-stalls"},{"kind":"removeRule","key":"drying-damp"},{"kind":"removeRule","key":"rack-too-warm"},{"kind":"removeNode","node":"gateway"},{"kind":"removeNode","node":"drying"},{"kind":"removeOwnPart","id":"spring-vibration"},{"kind":"removePerson","key":"bram"},{"kind":"removePerson","key":"ottilie"},{"kind":"removeSpot","key":"kitchen-sill"},{"kind":"removeSpot","key":"kiln-wall"},{"kind":"removeSpot","key":"mast-top"},{"kind":"removeSpot","key":"gate-box"},{"kind":"removeSpot","key":"glaze-shelf"},{"kind":"removeSpot","key":"landing-shelf"},{"kind":"removeSpot","key":"kiln-shelf"},{"kind":"removeSpot","key":"cistern-lid"},{"kind":"removeSpot","key":"drying-rack"},{"kind":"removeSpot","key":"hall-wall"},{"kind":"removeRoom","key":"kiln-shed"},{"kind":"removeRoom","key":"garden"},{"kind":"removeRoom","key":"drying-room"},{"kind":"removeRoom","key":"pottery"},{"kind":"removeRoom","key":"landing"},{"kind":"removeRoom","key":"kitchen"},{"kind":"removeRoom","key":"hall"}]','node:drying
node:gateway
part:spring-vibration
person:bram
person:ottilie
place
rule:drying-damp
rule:drying-stalls
rule:rack-too-warm','{"place":"{\"rooms\":[{\"key\":\"hall\",\"label\":\"Hall\",\"corners\":[{\"x\":0,\"y\":0},{\"x\":4,\"y\":0},{\"x\":4,\"y\":2.6},{\"x\":0,\"y\":2.6}],\"tags\":[]},{\"key\":\"kitchen\",\"label\":\"Kitchen\",\"corners\":[{\"x\":4,\"y\":0},{\"x\":8.4,\"y\":0},{\"x\":8.4,\"y\":4.2},{\"x\":4,\"y\":4.2}],\"tags\":[]},{\"key\":\"landing\",\"label\":\"Stair and landing\",\"corners\":[{\"x\":0,\"y\":2.6},{\"x\":4,\"y\":2.6},{\"x\":4,\"y\":4.2},{\"x\":0,\"y\":4.2}],\"tags\":[\"sleeping\"]},{\"key\":\"pottery\",\"label\":\"Pottery\",\"corners\":[{\"x\":11,\"y\":0.4},{\"x\":15.2,\"y\":0.4},{\"x\":15.2,\"y\":3.8},{\"x\":11,\"y\":3.8}],\"tags\":[\"dusty\"]},{\"key\":\"drying-room\",\"label\":\"Drying room\",\"corners\":[{\"x\":11,\"y\":3.8},{\"x\":15.2,\"y\":3.8},{\"x\":15.2,\"y\":6.8},{\"x\":11,\"y\":6.8}],\"tags\":[\"wet\"]},{\"key\":\"garden\",\"label\":\"Garden\",\"corners\":[{\"x\":0,\"y\":4.2},{\"x\":10.4,\"y\":4.2},{\"x\":10.4,\"y\":9.600000000000001},{\"x\":0,\"y\":9.600000000000001}],\"tags\":[\"outdoor\"]},{\"key\":\"kiln-shed\",\"label\":\"Kiln shed\",\"corners\":[{\"x\":11,\"y\":7.6},{\"x\":15.2,\"y\":7.6},{\"x\":15.2,\"y\":9.6},{\"x\":11,\"y\":9.6}],\"tags\":[\"hot\",\"dusty\"]}],\"walls\":[],\"spots\":[{\"key\":\"hall-wall\",\"label\":\"Hall wall\",\"room\":\"hall\",\"x\":0.3,\"y\":1.3,\"heightMetres\":2,\"facingDegrees\":90},{\"key\":\"drying-rack\",\"label\":\"Rack in the drying room\",\"room\":\"drying-room\",\"x\":14.2,\"y\":5.4,\"heightMetres\":1.6,\"facingDegrees\":270},{\"key\":\"cistern-lid\",\"label\":\"Cistern lid\",\"room\":\"garden\",\"x\":7.6,\"y\":8.2,\"heightMetres\":0.4,\"facingDegrees\":0},{\"key\":\"kiln-shelf\",\"label\":\"Kiln shelf\",\"room\":\"pottery\",\"x\":11.6,\"y\":1.2,\"heightMetres\":1.2,\"facingDegrees\":90},{\"key\":\"landing-shelf\",\"label\":\"Landing shelf\",\"room\":\"landing\",\"x\":2,\"y\":3.4,\"heightMetres\":1.2,\"facingDegrees\":180},{\"key\":\"glaze-shelf\",\"label\":\"Glaze shelf\",\"room\":\"pottery\",\"x\":14.2,\"y\":1.4,\"heightMetres\":1.6,\"facingDegrees\":180},{\"key\":\"gate-box\",\"label\":\"Parcel box at the gate\",\"room\":\"garden\",\"x\":0.6,\"y\":9,\"heightMetres\":1.1,\"facingDegrees\":180},{\"key\":\"mast-top\",\"label\":\"Rain mast\",\"room\":\"garden\",\"x\":5.2,\"y\":5.2,\"heightMetres\":2.4,\"facingDegrees\":0},{\"key\":\"kiln-wall\",\"label\":\"Kiln shed wall\",\"room\":\"kiln-shed\",\"x\":11.4,\"y\":8.6,\"heightMetres\":1.6,\"facingDegrees\":90},{\"key\":\"kitchen-sill\",\"label\":\"Kitchen window sill\",\"room\":\"kitchen\",\"x\":7.3,\"y\":2,\"heightMetres\":1.1,\"facingDegrees\":270}]}","node:drying":"{\"key\":\"drying\",\"label\":\"Drying room\",\"spot\":\"drying-rack\",\"board\":\"esp32-dev-38\",\"power\":{\"kind\":\"fiveVolt\",\"cell\":null,\"parallel\":1,\"stepUp\":false,\"module\":null,\"twelveVoltStepUp\":false,\"fuseAmps\":null,\"reverseGuard\":false,\"surgeGuard\":false,\"leadMetres\":0,\"leadAwg\":null,\"alsoUsb\":false,\"backfeedGuard\":false,\"charger\":null,\"chargerMeasuresCell\":false,\"cellCutOff\":true,\"series\":1,\"fittedOn\":null,\"harvest\":null,\"ratedAmps\":null,\"vehicle\":false,\"rails\":null},\"link\":\"wifi\",\"sleeps\":false,\"measuresSupply\":false,\"parts\":[{\"key\":\"air\",\"label\":\"Air sensor\",\"part\":\"bme280\",\"interface\":null,\"address\":null,\"leadMetres\":0.3,\"switchSupply\":false,\"bits\":null,\"rom\":null,\"variant\":null},{\"key\":\"rack1\",\"label\":\"Rack probe 1\",\"part\":\"ds18b20\",\"interface\":null,\"address\":null,\"leadMetres\":1.5,\"switchSupply\":false,\"bits\":12,\"rom\":null,\"variant\":null},{\"key\":\"rack2\",\"label\":\"Rack probe 2\",\"part\":\"ds18b20\",\"interface\":null,\"address\":null,\"leadMetres\":1.5,\"switchSupply\":false,\"bits\":12,\"rom\":null,\"variant\":null},{\"key\":\"rack3\",\"label\":\"Rack probe 3\",\"part\":\"ds18b20\",\"interface\":null,\"address\":null,\"leadMetres\":1.5,\"switchSupply\":false,\"bits\":12,\"rom\":null,\"variant\":null},{\"key\":\"rack4\",\"label\":\"Rack probe 4\",\"part\":\"ds18b20\",\"interface\":null,\"address\":null,\"leadMetres\":1.5,\"switchSupply\":false,\"bits\":12,\"rom\":null,\"variant\":null},{\"key\":\"fan\",\"label\":\"Fan relay\",\"part\":\"relay-5v-1ch\",\"interface\":null,\"address\":null,\"leadMetres\":0.2,\"switchSupply\":false,\"bits\":null,\"rom\":null,\"variant\":null}],\"wires\":[],\"readings\":[{\"key\":\"temp\",\"label\":\"Air temperature\",\"part\":\"air\",\"quantity\":\"temperature\",\"intervalMs\":10000,\"heartbeatMs\":null,\"decimals\":1,\"batchOf\":1,\"wantedWithinMs\":null,\"perDay\":null,\"output\":null},{\"key\":\"rh\",\"label\":\"Air humidity\",\"part\":\"air\",\"quantity\":\"humidity\",\"intervalMs\":10000,\"heartbeatMs\":null,\"decimals\":0,\"batchOf\":1,\"wantedWithinMs\":null,\"perDay\":null,\"output\":null},{\"key\":\"pressure\",\"label\":\"Air pressure\",\"part\":\"air\",\"quantity\":\"pressure\",\"intervalMs\":60000,\"heartbeatMs\":null,\"decimals\":1,\"batchOf\":1,\"wantedWithinMs\":null,\"perDay\":null,\"output\":null},{\"key\":\"rack1\",\"label\":\"Rack 1 temperature\",\"part\":\"rack1\",\"quantity\":\"temperature\",\"intervalMs\":10000,\"heartbeatMs\":null,\"decimals\":2,\"batchOf\":1,\"wantedWithinMs\":null,\"perDay\":null,\"output\":null},{\"key\":\"rack2\",\"label\":\"Rack 2 temperature\",\"part\":\"rack2\",\"quantity\":\"temperature\",\"intervalMs\":10000,\"heartbeatMs\":null,\"decimals\":2,\"batchOf\":1,\"wantedWithinMs\":null,\"perDay\":null,\"output\":null},{\"key\":\"rack3\",\"label\":\"Rack 3 temperature\",\"part\":\"rack3\",\"quantity\":\"temperature\",\"intervalMs\":10000,\"heartbeatMs\":null,\"decimals\":2,\"batchOf\":1,\"wantedWithinMs\":null,\"perDay\":null,\"output\":null},{\"key\":\"rack4\",\"label\":\"Rack 4 temperature\",\"part\":\"rack4\",\"quantity\":\"temperature\",\"intervalMs\":10000,\"heartbeatMs\":null,\"decimals\":2,\"batchOf\":1,\"wantedWithinMs\":null,\"perDay\":null,\"output\":null},{\"key\":\"fan\",\"label\":\"Fan\",\"part\":\"fan\",\"quantity\":\"relay\",\"intervalMs\":null,\"heartbeatMs\":60000,\"decimals\":0,\"batchOf\":1,\"wantedWithinMs\":null,\"perDay\":null,\"output\":{\"load\":\"fan\",\"maxOnMs\":7200000,\"serverSilentMs\":null}}],\"addsModules\":true,\"housing\":{\"vented\":false,\"sealed\":true,\"clearLid\":false},\"sending\":null,\"via\":null,\"correctsItself\":false}","node:gateway":"{\"key\":\"gateway\",\"label\":\"Gateway\",\"spot\":\"kitchen-sill\",\"board\":\"esp32-dev-38\",\"power\":{\"kind\":\"usb\",\"cell\":null,\"parallel\":1,\"stepUp\":false,\"module\":null,\"twelveVoltStepUp\":false,\"fuseAmps\":null,\"reverseGuard\":false,\"surgeGuard\":false,\"leadMetres\":0,\"leadAwg\":null,\"alsoUsb\":false,\"backfeedGuard\":false,\"charger\":null,\"chargerMeasuresCell\":false,\"cellCutOff\":true,\"series\":1,\"fittedOn\":null,\"harvest\":null,\"ratedAmps\":null,\"vehicle\":false,\"rails\":null},\"link\":\"wifi\",\"sleeps\":false,\"measuresSupply\":false,\"parts\":[{\"key\":\"radio\",\"label\":\"Long-range radio\",\"part\":\"lora-sx1276\",\"interface\":null,\"address\":null,\"leadMetres\":0.1,\"switchSupply\":false,\"bits\":null,\"rom\":null,\"variant\":null},{\"key\":\"sounder\",\"label\":\"Sounder\",\"part\":\"piezo-passive\",\"interface\":null,\"address\":null,\"leadMetres\":0.2,\"switchSupply\":false,\"bits\":null,\"rom\":null,\"variant\":null}],\"wires\":[],\"readings\":[{\"key\":\"sounder\",\"label\":\"Sounder\",\"part\":\"sounder\",\"quantity\":\"tone\",\"intervalMs\":null,\"heartbeatMs\":60000,\"decimals\":0,\"batchOf\":1,\"wantedWithinMs\":null,\"perDay\":null,\"output\":{\"load\":\"sounder\",\"maxOnMs\":180000,\"serverSilentMs\":300000}}],\"addsModules\":true,\"housing\":{\"vented\":true,\"sealed\":false,\"clearLid\":false},\"sending\":null,\"via\":null,\"correctsItself\":false}","rule:rack-too-warm":"{\"key\":\"rack-too-warm\",\"label\":\"Rack 1 too warm\",\"node\":\"drying\",\"reading\":\"rack1\",\"condition\":{\"kind\":\"beyondLimit\",\"side\":\"above\",\"limit\":32,\"clear\":30,\"forMs\":0},\"note\":\"Open the vent and turn the fan on.\",\"armed\":true,\"wantedWithinMs\":null,\"tell\":{\"steps\":[{\"person\":\"ottilie\",\"afterMs\":0}],\"remindEveryMs\":3600000,\"throughQuiet\":false,\"whenOver\":true,\"damped\":null},\"acts\":[],\"join\":\"all\",\"also\":[]}","rule:drying-damp":"{\"key\":\"drying-damp\",\"label\":\"Drying room damp\",\"node\":\"drying\",\"reading\":\"rh\",\"condition\":{\"kind\":\"beyondLimit\",\"side\":\"above\",\"limit\":75,\"clear\":70,\"forMs\":600000},\"note\":\"Check the fan; turn the pots.\",\"armed\":true,\"wantedWithinMs\":null,\"tell\":{\"steps\":[{\"person\":\"ottilie\",\"afterMs\":0}],\"remindEveryMs\":null,\"throughQuiet\":false,\"whenOver\":false,\"damped\":null},\"acts\":[{\"node\":\"drying\",\"output\":\"fan\",\"while\":\"raised\",\"forMs\":null}],\"join\":\"all\",\"also\":[]}","rule:drying-stalls":"{\"key\":\"drying-stalls\",\"label\":\"Drying stalls\",\"node\":\"drying\",\"reading\":\"rh\",\"condition\":{\"kind\":\"beyondLimit\",\"side\":\"above\",\"limit\":72,\"clear\":68,\"forMs\":1800000},\"note\":\"Damp, and the fan has not run: switch it on, or open the vent.\",\"armed\":true,\"wantedWithinMs\":null,\"tell\":null,\"acts\":[],\"join\":\"all\",\"also\":[{\"reading\":{\"node\":\"drying\",\"reading\":\"fan\"},\"condition\":{\"kind\":\"beyondLimit\",\"side\":\"below\",\"limit\":0.5,\"clear\":0.5,\"forMs\":0}}]}","part:spring-vibration":"{\"id\":\"spring-vibration\",\"label\":\"Spring vibration switch, bare\",\"kind\":\"sensor\",\"quantities\":[{\"quantity\":\"vibration\",\"kind\":\"event\",\"unit\":\"\",\"accuracy\":\"one knock closes it for some milliseconds\",\"min\":0,\"max\":1,\"resolution\":null,\"error\":null,\"errorPercent\":null}],\"interfaces\":[{\"kind\":\"contact\",\"label\":\"dry contact\",\"lines\":[{\"name\":\"A\",\"role\":\"contact\",\"drive\":\"contact\",\"atStart\":\"either\",\"highVolts\":null,\"edge\":true,\"load\":false,\"activeLow\":false,\"floatsToSupply\":false,\"optional\":false,\"note\":null,\"timed\":false,\"pwm\":false,\"openDrain\":false,\"gate\":false,\"maxVolts\":null,\"highAtLeastOfSupply\":null,\"milliamps\":null,\"inductive\":false,\"forwardVolts\":null,\"seriesOhms\":null,\"lowVolts\":null,\"sourceOhms\":null,\"highAtLeastVolts\":null}],\"quantities\":null,\"addresses\":null,\"maxKilohertz\":null,\"bitsPerReading\":null,\"baud\":null,\"strap\":null,\"alsoAddresses\":null,\"startAddress\":null,\"exclusiveBus\":false,\"resistive\":null}],\"supplyMinVolts\":null,\"supplyMaxVolts\":null,\"staysOn\":false,\"sleepMicroamps\":{\"min\":0,\"typ\":0,\"max\":1,\"source\":\"invented for the demo\",\"confidence\":\"prudent\",\"likely\":0,\"low\":0,\"high\":1},\"activeMilliamps\":null,\"peakMilliamps\":null,\"warmUpMs\":null,\"conversionMs\":null,\"conversionByBits\":null,\"minIntervalMs\":null,\"pullUpOhms\":null,\"pins\":[\"A\",\"B\"],\"supplyPin\":null,\"groundPin\":\"B\",\"modem\":null,\"needs\":[\"pull-up, debounce of 5 ms\"],\"placement\":[\"fixed firmly to what is knocked\"],\"faults\":[],\"cautions\":[],\"source\":\"Invented for the demo.\",\"peakMs\":null,\"bulkMicrofarads\":null,\"helper\":null,\"discardReadings\":0,\"display\":null,\"uses\":null,\"leds\":null,\"opto\":null}","person:ottilie":"{\"key\":\"ottilie\",\"name\":\"Ottilie\",\"ways\":[{\"kind\":\"mail\",\"address\":\"ottilie@fernhollow.example\"},{\"kind\":\"text\",\"address\":\"+441632960155\"}],\"quiet\":{\"fromMinute\":1350,\"toMinute\":390,\"days\":[\"monday\",\"tuesday\",\"wednesday\",\"thursday\",\"friday\",\"saturday\",\"sunday\"]}}","person:bram":"{\"key\":\"bram\",\"name\":\"Bram\",\"ways\":[{\"kind\":\"text\",\"address\":\"+441632960177\"}],\"quiet\":null}"}');
CREATE TABLE rollups (
    reading_id INTEGER NOT NULL REFERENCES readings (Id),
    step INTEGER NOT NULL,
    t INTEGER NOT NULL,
    n INTEGER NOT NULL,
    low REAL NOT NULL,
    high REAL NOT NULL,
    sum REAL NOT NULL,
    last REAL NOT NULL,
    last_t INTEGER NOT NULL,
    rises INTEGER NOT NULL,
    PRIMARY KEY (reading_id, step, t)
) WITHOUT ROWID;
INSERT INTO "rollups" VALUES(1,60000,1795986420000,1,20.0,20.0,20.0,20.0,1795986436000,0);
INSERT INTO "rollups" VALUES(1,60000,1795986480000,1,20.74,20.74,20.74,20.74,1795986496000,0);
INSERT INTO "rollups" VALUES(1,60000,1795986540000,1,21.44,21.44,21.44,21.44,1795986556000,0);
INSERT INTO "rollups" VALUES(1,60000,1795986600000,1,22.04,22.04,22.04,22.04,1795986616000,0);
INSERT INTO "rollups" VALUES(1,60000,1795986660000,1,22.52,22.52,22.52,22.52,1795986676000,0);
INSERT INTO "rollups" VALUES(1,60000,1795986720000,1,22.85,22.85,22.85,22.85,1795986736000,0);
INSERT INTO "rollups" VALUES(1,60000,1795986780000,1,22.99,22.99,22.99,22.99,1795986796000,0);
INSERT INTO "rollups" VALUES(1,60000,1795986840000,1,22.95,22.95,22.95,22.95,1795986856000,0);
INSERT INTO "rollups" VALUES(1,60000,1795986900000,1,22.73,22.73,22.73,22.73,1795986916000,0);
INSERT INTO "rollups" VALUES(1,60000,1795986960000,1,22.33,22.33,22.33,22.33,1795986976000,0);
INSERT INTO "rollups" VALUES(1,60000,1795987020000,1,21.8,21.8,21.8,21.8,1795987036000,0);
INSERT INTO "rollups" VALUES(1,60000,1795987080000,1,21.14,21.14,21.14,21.14,1795987096000,0);
INSERT INTO "rollups" VALUES(1,60000,1795987140000,1,20.42,20.42,20.42,20.42,1795987156000,0);
INSERT INTO "rollups" VALUES(1,60000,1795987200000,1,19.68,19.68,19.68,19.68,1795987216000,0);
INSERT INTO "rollups" VALUES(1,60000,1795987260000,1,18.95,18.95,18.95,18.95,1795987276000,0);
INSERT INTO "rollups" VALUES(1,60000,1795987320000,1,18.29,18.29,18.29,18.29,1795987336000,0);
INSERT INTO "rollups" VALUES(1,60000,1795987380000,1,17.73,17.73,17.73,17.73,1795987396000,0);
INSERT INTO "rollups" VALUES(1,60000,1795987440000,1,17.32,17.32,17.32,17.32,1795987456000,0);
INSERT INTO "rollups" VALUES(1,60000,1795987500000,1,17.07,17.07,17.07,17.07,1795987516000,0);
INSERT INTO "rollups" VALUES(1,60000,1795987560000,1,17.0,17.0,17.0,17.0,1795987576000,0);
INSERT INTO "rollups" VALUES(1,3600000,1795986000000,20,17.0,22.99,409.99,17.0,1795987576000,0);
INSERT INTO "rollups" VALUES(2,60000,1795986420000,1,55.0,55.0,55.0,55.0,1795986436000,0);
INSERT INTO "rollups" VALUES(2,60000,1795986480000,1,56.0,56.0,56.0,56.0,1795986496000,0);
INSERT INTO "rollups" VALUES(2,60000,1795986540000,1,57.0,57.0,57.0,57.0,1795986556000,0);
INSERT INTO "rollups" VALUES(2,60000,1795986600000,1,55.0,55.0,55.0,55.0,1795986616000,0);
INSERT INTO "rollups" VALUES(2,60000,1795986660000,1,56.0,56.0,56.0,56.0,1795986676000,0);
INSERT INTO "rollups" VALUES(2,60000,1795986720000,1,57.0,57.0,57.0,57.0,1795986736000,0);
INSERT INTO "rollups" VALUES(2,60000,1795986780000,1,55.0,55.0,55.0,55.0,1795986796000,0);
INSERT INTO "rollups" VALUES(2,60000,1795986840000,1,56.0,56.0,56.0,56.0,1795986856000,0);
INSERT INTO "rollups" VALUES(2,60000,1795986900000,1,57.0,57.0,57.0,57.0,1795986916000,0);
INSERT INTO "rollups" VALUES(2,60000,1795986960000,1,55.0,55.0,55.0,55.0,1795986976000,0);
INSERT INTO "rollups" VALUES(2,60000,1795987020000,1,56.0,56.0,56.0,56.0,1795987036000,0);
INSERT INTO "rollups" VALUES(2,60000,1795987080000,1,57.0,57.0,57.0,57.0,1795987096000,0);
INSERT INTO "rollups" VALUES(2,60000,1795987140000,1,55.0,55.0,55.0,55.0,1795987156000,0);
INSERT INTO "rollups" VALUES(2,60000,1795987200000,1,56.0,56.0,56.0,56.0,1795987216000,0);
INSERT INTO "rollups" VALUES(2,60000,1795987260000,1,57.0,57.0,57.0,57.0,1795987276000,0);
INSERT INTO "rollups" VALUES(2,60000,1795987320000,1,55.0,55.0,55.0,55.0,1795987336000,0);
INSERT INTO "rollups" VALUES(2,60000,1795987380000,1,56.0,56.0,56.0,56.0,1795987396000,0);
INSERT INTO "rollups" VALUES(2,60000,1795987440000,1,57.0,57.0,57.0,57.0,1795987456000,0);
INSERT INTO "rollups" VALUES(2,60000,1795987500000,1,55.0,55.0,55.0,55.0,1795987516000,0);
INSERT INTO "rollups" VALUES(2,60000,1795987560000,1,56.0,56.0,56.0,56.0,1795987576000,0);
INSERT INTO "rollups" VALUES(2,3600000,1795986000000,20,55.0,57.0,1119.0,56.0,1795987576000,0);
INSERT INTO "rollups" VALUES(4,60000,1795986420000,1,24.0,24.0,24.0,24.0,1795986436000,0);
INSERT INTO "rollups" VALUES(4,60000,1795986480000,1,24.5,24.5,24.5,24.5,1795986496000,0);
INSERT INTO "rollups" VALUES(4,60000,1795986540000,1,25.0,25.0,25.0,25.0,1795986556000,0);
INSERT INTO "rollups" VALUES(4,60000,1795986600000,1,25.5,25.5,25.5,25.5,1795986616000,0);
INSERT INTO "rollups" VALUES(4,60000,1795986660000,1,26.0,26.0,26.0,26.0,1795986676000,0);
INSERT INTO "rollups" VALUES(4,60000,1795986720000,1,26.5,26.5,26.5,26.5,1795986736000,0);
INSERT INTO "rollups" VALUES(4,60000,1795986780000,1,27.0,27.0,27.0,27.0,1795986796000,0);
INSERT INTO "rollups" VALUES(4,60000,1795986840000,1,27.5,27.5,27.5,27.5,1795986856000,0);
INSERT INTO "rollups" VALUES(4,60000,1795986900000,1,28.0,28.0,28.0,28.0,1795986916000,0);
INSERT INTO "rollups" VALUES(4,60000,1795986960000,1,28.5,28.5,28.5,28.5,1795986976000,0);
INSERT INTO "rollups" VALUES(4,60000,1795987020000,1,29.0,29.0,29.0,29.0,1795987036000,0);
INSERT INTO "rollups" VALUES(4,60000,1795987080000,1,29.5,29.5,29.5,29.5,1795987096000,0);
INSERT INTO "rollups" VALUES(4,60000,1795987140000,1,30.0,30.0,30.0,30.0,1795987156000,0);
INSERT INTO "rollups" VALUES(4,60000,1795987200000,1,30.5,30.5,30.5,30.5,1795987216000,0);
INSERT INTO "rollups" VALUES(4,60000,1795987260000,1,31.0,31.0,31.0,31.0,1795987276000,0);
INSERT INTO "rollups" VALUES(4,60000,1795987320000,1,31.5,31.5,31.5,31.5,1795987336000,0);
INSERT INTO "rollups" VALUES(4,60000,1795987380000,1,32.0,32.0,32.0,32.0,1795987396000,0);
INSERT INTO "rollups" VALUES(4,60000,1795987440000,1,32.5,32.5,32.5,32.5,1795987456000,0);
INSERT INTO "rollups" VALUES(4,60000,1795987500000,1,33.0,33.0,33.0,33.0,1795987516000,0);
INSERT INTO "rollups" VALUES(4,60000,1795987560000,1,33.5,33.5,33.5,33.5,1795987576000,0);
INSERT INTO "rollups" VALUES(4,3600000,1795986000000,20,24.0,33.5,575.0,33.5,1795987576000,0);
CREATE TABLE "rule_states" (
    "Site" TEXT NOT NULL,
    "Rule" TEXT NOT NULL,
    "State" TEXT NOT NULL,
    "Condition" TEXT NOT NULL,
    CONSTRAINT "PK_rule_states" PRIMARY KEY ("Site", "Rule"),
    CONSTRAINT "FK_rule_states_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
INSERT INTO "rule_states" VALUES('elder','drying-damp','{"pendingSince":null,"raised":false,"lastHeard":1795987624214,"lastValue":56,"marks":[],"row":0,"more":null,"listensSince":null}','{"kind":"beyondLimit","side":"above","limit":75,"clear":70,"forMs":600000} drying/rh');
INSERT INTO "rule_states" VALUES('elder','drying-stalls','{"pendingSince":null,"raised":false,"lastHeard":1795987624214,"lastValue":56,"marks":[],"row":0,"more":{"lastOther":null,"newest":1795987576000,"parts":[{"pendingSince":null,"raised":false,"lastHeard":1795987624214,"lastValue":56,"marks":[],"row":0,"more":null,"listensSince":null},{"pendingSince":null,"raised":false,"lastHeard":1795987624214,"lastValue":null,"marks":[],"row":0,"more":null,"listensSince":null}]},"listensSince":null}','{"kind":"beyondLimit","side":"above","limit":72,"clear":68,"forMs":1800000} drying/rh All [{"reading":{"node":"drying","reading":"fan"},"condition":{"kind":"beyondLimit","side":"below","limit":0.5,"clear":0.5,"forMs":0}}]');
INSERT INTO "rule_states" VALUES('elder','rack-too-warm','{"pendingSince":1795987456000,"raised":true,"lastHeard":1795987624214,"lastValue":33.5,"marks":[],"row":0,"more":null,"listensSince":null}','{"kind":"beyondLimit","side":"above","limit":32,"clear":30,"forMs":0} drying/rack1');
CREATE TABLE samples (
    reading_id INTEGER NOT NULL REFERENCES readings (Id),
    t INTEGER NOT NULL,
    n INTEGER NOT NULL,
    raw REAL NOT NULL,
    value REAL NOT NULL,
    flags INTEGER NOT NULL,
    arrival_id INTEGER NOT NULL,
    PRIMARY KEY (reading_id, t, n)
) WITHOUT ROWID;
INSERT INTO "samples" VALUES(1,1795986436000,0,20.0,20.0,0,1);
INSERT INTO "samples" VALUES(1,1795986496000,0,20.74,20.74,0,2);
INSERT INTO "samples" VALUES(1,1795986556000,0,21.44,21.44,0,3);
INSERT INTO "samples" VALUES(1,1795986616000,0,22.04,22.04,0,4);
INSERT INTO "samples" VALUES(1,1795986676000,0,22.52,22.52,0,5);
INSERT INTO "samples" VALUES(1,1795986736000,0,22.85,22.85,0,6);
INSERT INTO "samples" VALUES(1,1795986796000,0,22.99,22.99,0,7);
INSERT INTO "samples" VALUES(1,1795986856000,0,22.95,22.95,0,8);
INSERT INTO "samples" VALUES(1,1795986916000,0,22.73,22.73,0,9);
INSERT INTO "samples" VALUES(1,1795986976000,0,22.33,22.33,0,10);
INSERT INTO "samples" VALUES(1,1795987036000,0,21.8,21.8,0,11);
INSERT INTO "samples" VALUES(1,1795987096000,0,21.14,21.14,0,12);
INSERT INTO "samples" VALUES(1,1795987156000,0,20.42,20.42,0,13);
INSERT INTO "samples" VALUES(1,1795987216000,0,19.68,19.68,0,14);
INSERT INTO "samples" VALUES(1,1795987276000,0,18.95,18.95,0,15);
INSERT INTO "samples" VALUES(1,1795987336000,0,18.29,18.29,0,16);
INSERT INTO "samples" VALUES(1,1795987396000,0,17.73,17.73,0,17);
INSERT INTO "samples" VALUES(1,1795987456000,0,17.32,17.32,0,18);
INSERT INTO "samples" VALUES(1,1795987516000,0,17.07,17.07,0,19);
INSERT INTO "samples" VALUES(1,1795987576000,0,17.0,17.0,0,20);
INSERT INTO "samples" VALUES(2,1795986436000,0,55.0,55.0,0,1);
INSERT INTO "samples" VALUES(2,1795986496000,0,56.0,56.0,0,2);
INSERT INTO "samples" VALUES(2,1795986556000,0,57.0,57.0,0,3);
INSERT INTO "samples" VALUES(2,1795986616000,0,55.0,55.0,0,4);
INSERT INTO "samples" VALUES(2,1795986676000,0,56.0,56.0,0,5);
INSERT INTO "samples" VALUES(2,1795986736000,0,57.0,57.0,0,6);
INSERT INTO "samples" VALUES(2,1795986796000,0,55.0,55.0,0,7);
INSERT INTO "samples" VALUES(2,1795986856000,0,56.0,56.0,0,8);
INSERT INTO "samples" VALUES(2,1795986916000,0,57.0,57.0,0,9);
INSERT INTO "samples" VALUES(2,1795986976000,0,55.0,55.0,0,10);
INSERT INTO "samples" VALUES(2,1795987036000,0,56.0,56.0,0,11);
INSERT INTO "samples" VALUES(2,1795987096000,0,57.0,57.0,0,12);
INSERT INTO "samples" VALUES(2,1795987156000,0,55.0,55.0,0,13);
INSERT INTO "samples" VALUES(2,1795987216000,0,56.0,56.0,0,14);
INSERT INTO "samples" VALUES(2,1795987276000,0,57.0,57.0,0,15);
INSERT INTO "samples" VALUES(2,1795987336000,0,55.0,55.0,0,16);
INSERT INTO "samples" VALUES(2,1795987396000,0,56.0,56.0,0,17);
INSERT INTO "samples" VALUES(2,1795987456000,0,57.0,57.0,0,18);
INSERT INTO "samples" VALUES(2,1795987516000,0,55.0,55.0,0,19);
INSERT INTO "samples" VALUES(2,1795987576000,0,56.0,56.0,0,20);
INSERT INTO "samples" VALUES(4,1795986436000,0,24.0,24.0,0,1);
INSERT INTO "samples" VALUES(4,1795986496000,0,24.5,24.5,0,2);
INSERT INTO "samples" VALUES(4,1795986556000,0,25.0,25.0,0,3);
INSERT INTO "samples" VALUES(4,1795986616000,0,25.5,25.5,0,4);
INSERT INTO "samples" VALUES(4,1795986676000,0,26.0,26.0,0,5);
INSERT INTO "samples" VALUES(4,1795986736000,0,26.5,26.5,0,6);
INSERT INTO "samples" VALUES(4,1795986796000,0,27.0,27.0,0,7);
INSERT INTO "samples" VALUES(4,1795986856000,0,27.5,27.5,0,8);
INSERT INTO "samples" VALUES(4,1795986916000,0,28.0,28.0,0,9);
INSERT INTO "samples" VALUES(4,1795986976000,0,28.5,28.5,0,10);
INSERT INTO "samples" VALUES(4,1795987036000,0,29.0,29.0,0,11);
INSERT INTO "samples" VALUES(4,1795987096000,0,29.5,29.5,0,12);
INSERT INTO "samples" VALUES(4,1795987156000,0,30.0,30.0,0,13);
INSERT INTO "samples" VALUES(4,1795987216000,0,30.5,30.5,0,14);
INSERT INTO "samples" VALUES(4,1795987276000,0,31.0,31.0,0,15);
INSERT INTO "samples" VALUES(4,1795987336000,0,31.5,31.5,0,16);
INSERT INTO "samples" VALUES(4,1795987396000,0,32.0,32.0,0,17);
INSERT INTO "samples" VALUES(4,1795987456000,0,32.5,32.5,0,18);
INSERT INTO "samples" VALUES(4,1795987516000,0,33.0,33.0,0,19);
INSERT INTO "samples" VALUES(4,1795987576000,0,33.5,33.5,0,20);
CREATE TABLE "saved_settings" (
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "Hash" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Who" TEXT NOT NULL,
    "Lines" TEXT NOT NULL,
    CONSTRAINT "PK_saved_settings" PRIMARY KEY ("Site", "Node", "Hash"),
    CONSTRAINT "FK_saved_settings_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "scans" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_scans" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Who" TEXT NULL,
    "Text" TEXT NOT NULL, "Verdict" TEXT NULL,
    CONSTRAINT "FK_scans_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "set_aside" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_set_aside" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Node" TEXT NOT NULL,
    "Reading" TEXT NOT NULL,
    "FromMs" INTEGER NOT NULL,
    "ToMs" INTEGER NOT NULL,
    "Reason" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Who" TEXT NOT NULL,
    "UndoneMs" INTEGER NULL,
    "UndoneBy" TEXT NULL,
    CONSTRAINT "FK_set_aside_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "share_links" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_share_links" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "View" TEXT NOT NULL,
    "Label" TEXT NOT NULL,
    "Hash" TEXT NOT NULL,
    "MadeMs" INTEGER NOT NULL,
    "MadeBy" TEXT NOT NULL,
    "ExpiresMs" INTEGER NULL,
    "RevokedMs" INTEGER NULL,
    "Uses" INTEGER NOT NULL,
    "LastUseMs" INTEGER NULL,
    CONSTRAINT "FK_share_links_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "sites" (
    "Key" TEXT NOT NULL CONSTRAINT "PK_sites" PRIMARY KEY,
    "Revision" INTEGER NOT NULL,
    "EpochSystemMs" INTEGER NOT NULL,
    "EpochSiteMs" INTEGER NOT NULL,
    "Speed" REAL NOT NULL,
    "JudgedArrival" INTEGER NOT NULL
, "JudgedAnywayArrival" INTEGER NULL, "JudgedAnywayMs" INTEGER NULL);
INSERT INTO "sites" VALUES('elder',2,1795987597757,1795987597757,1.0,20,NULL,NULL);
CREATE TABLE "zone_states" (
    "Site" TEXT NOT NULL,
    "Zone" TEXT NOT NULL,
    "State" TEXT NOT NULL,
    "Who" TEXT NULL,
    CONSTRAINT "PK_zone_states" PRIMARY KEY ("Site", "Zone"),
    CONSTRAINT "FK_zone_states_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE TABLE "zone_turns" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_zone_turns" PRIMARY KEY AUTOINCREMENT,
    "Site" TEXT NOT NULL,
    "Zone" TEXT NOT NULL,
    "AtMs" INTEGER NOT NULL,
    "Who" TEXT NULL,
    "Turn" TEXT NOT NULL,
    "Mode" TEXT NOT NULL,
    "Cause" TEXT NULL,
    CONSTRAINT "FK_zone_turns_sites_Site" FOREIGN KEY ("Site") REFERENCES "sites" ("Key") ON DELETE CASCADE
);
CREATE INDEX "IX_AspNetUserClaims_UserId" ON "AspNetUserClaims" ("UserId");
CREATE INDEX "IX_AspNetUserLogins_UserId" ON "AspNetUserLogins" ("UserId");
CREATE INDEX "EmailIndex" ON "AspNetUsers" ("NormalizedEmail");
CREATE UNIQUE INDEX "UserNameIndex" ON "AspNetUsers" ("NormalizedUserName");
CREATE INDEX "IX_episodes_Site_RaisedMs" ON "episodes" ("Site", "RaisedMs");
CREATE INDEX "IX_measured_currents_Site" ON "measured_currents" ("Site");
CREATE UNIQUE INDEX "IX_readings_Site_Node_Key" ON "readings" ("Site", "Node", "Key");
CREATE INDEX "IX_refusals_Site_Node_Id" ON "refusals" ("Site", "Node", "Id");
CREATE INDEX samples_by_arrival ON samples (arrival_id);
CREATE INDEX "IX_commands_Site_Id" ON "commands" ("Site", "Id");
CREATE INDEX "IX_scans_Site_Node_Id" ON "scans" ("Site", "Node", "Id");
CREATE INDEX "IX_node_reports_Site_Node_Id" ON "node_reports" ("Site", "Node", "Id");
CREATE INDEX "IX_calibrations_ReadingId" ON "calibrations" ("ReadingId");
CREATE INDEX "IX_calibrations_Site_Node" ON "calibrations" ("Site", "Node");
CREATE INDEX "IX_log_notes_Site_Id" ON "log_notes" ("Site", "Id");
CREATE INDEX "IX_build_ticks_Site_Node_Id" ON "build_ticks" ("Site", "Node", "Id");
CREATE UNIQUE INDEX "IX_due_feeds_Hash" ON "due_feeds" ("Hash");
CREATE INDEX "IX_log_pictures_Note" ON "log_pictures" ("Note");
CREATE INDEX "IX_log_pictures_Site" ON "log_pictures" ("Site");
CREATE INDEX "IX_outages_Site_Id" ON "outages" ("Site", "Id");
CREATE INDEX "IX_range_walks_Site_Node_Id" ON "range_walks" ("Site", "Node", "Id");
CREATE INDEX "IX_episodes_Site_ToldAll" ON "episodes" ("Site", "ToldAll");
CREATE INDEX "IX_outbox_DoneMs_NotBeforeMs" ON "outbox" ("DoneMs", "NotBeforeMs");
CREATE UNIQUE INDEX "IX_outbox_MessageId" ON "outbox" ("MessageId");
CREATE INDEX "IX_outbox_Site" ON "outbox" ("Site");
CREATE INDEX "IX_outbox_episodes_Episode" ON "outbox_episodes" ("Episode");
CREATE UNIQUE INDEX "IX_share_links_Hash" ON "share_links" ("Hash");
CREATE INDEX "IX_share_links_Site" ON "share_links" ("Site");
CREATE INDEX "IX_arrivals_Import" ON "arrivals" ("Import") WHERE Import IS NOT NULL;
CREATE UNIQUE INDEX "IX_arrivals_Site_Node_Life_Boot_Number" ON "arrivals" ("Site", "Node", "Life", "Boot", "Number");
CREATE INDEX "IX_imports_Site_Id" ON "imports" ("Site", "Id");
CREATE INDEX "IX_node_lives_Site_Node_Id" ON "node_lives" ("Site", "Node", "Id");
CREATE INDEX "IX_set_aside_Site_Node_Reading" ON "set_aside" ("Site", "Node", "Reading");
CREATE INDEX "IX_zone_turns_Site_Id" ON "zone_turns" ("Site", "Id");
DELETE FROM "sqlite_sequence";
INSERT INTO "sqlite_sequence" VALUES('readings',9);
INSERT INTO "sqlite_sequence" VALUES('arrivals',20);
INSERT INTO "sqlite_sequence" VALUES('episodes',1);
INSERT INTO "sqlite_sequence" VALUES('outbox',2);
COMMIT;
