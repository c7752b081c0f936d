using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Cenotic.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class LivesImportsPeriods : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_arrivals_Site_Node_Boot_Number",
                table: "arrivals");

            migrationBuilder.AddColumn<string>(
                name: "Verdict",
                table: "scans",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "RepeatMs",
                table: "node_status",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "Repeats",
                table: "node_status",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0L);

            migrationBuilder.AddColumn<long>(
                name: "Digest",
                table: "arrivals",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "Import",
                table: "arrivals",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "Life",
                table: "arrivals",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.CreateTable(
                name: "imports",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    FileName = table.Column<string>(type: "TEXT", nullable: false),
                    Digest = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    Samples = table.Column<long>(type: "INTEGER", nullable: false),
                    UndoneMs = table.Column<long>(type: "INTEGER", nullable: true),
                    UndoneBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_imports", x => x.Id);
                    table.ForeignKey(
                        name: "FK_imports_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "node_lives",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Life = table.Column<int>(type: "INTEGER", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Times = table.Column<int>(type: "INTEGER", nullable: false),
                    BeforeBoot = table.Column<long>(type: "INTEGER", nullable: false),
                    BeforeNumber = table.Column<long>(type: "INTEGER", nullable: false),
                    Boot = table.Column<long>(type: "INTEGER", nullable: false),
                    Number = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_node_lives", x => x.Id);
                    table.ForeignKey(
                        name: "FK_node_lives_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "set_aside",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Reading = table.Column<string>(type: "TEXT", nullable: false),
                    FromMs = table.Column<long>(type: "INTEGER", nullable: false),
                    ToMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    UndoneMs = table.Column<long>(type: "INTEGER", nullable: true),
                    UndoneBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_set_aside", x => x.Id);
                    table.ForeignKey(
                        name: "FK_set_aside_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "zone_turns",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Zone = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: true),
                    Turn = table.Column<string>(type: "TEXT", nullable: false),
                    Mode = table.Column<string>(type: "TEXT", nullable: false),
                    Cause = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_zone_turns", x => x.Id);
                    table.ForeignKey(
                        name: "FK_zone_turns_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_arrivals_Import",
                table: "arrivals",
                column: "Import",
                filter: "Import IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_arrivals_Site_Node_Life_Boot_Number",
                table: "arrivals",
                columns: new[] { "Site", "Node", "Life", "Boot", "Number" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_imports_Site_Id",
                table: "imports",
                columns: new[] { "Site", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_node_lives_Site_Node_Id",
                table: "node_lives",
                columns: new[] { "Site", "Node", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_set_aside_Site_Node_Reading",
                table: "set_aside",
                columns: new[] { "Site", "Node", "Reading" });

            migrationBuilder.CreateIndex(
                name: "IX_zone_turns_Site_Id",
                table: "zone_turns",
                columns: new[] { "Site", "Id" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "imports");

            migrationBuilder.DropTable(
                name: "node_lives");

            migrationBuilder.DropTable(
                name: "set_aside");

            migrationBuilder.DropTable(
                name: "zone_turns");

            migrationBuilder.DropIndex(
                name: "IX_arrivals_Import",
                table: "arrivals");

            migrationBuilder.DropIndex(
                name: "IX_arrivals_Site_Node_Life_Boot_Number",
                table: "arrivals");

            migrationBuilder.DropColumn(
                name: "Verdict",
                table: "scans");

            migrationBuilder.DropColumn(
                name: "RepeatMs",
                table: "node_status");

            migrationBuilder.DropColumn(
                name: "Repeats",
                table: "node_status");

            migrationBuilder.DropColumn(
                name: "Digest",
                table: "arrivals");

            migrationBuilder.DropColumn(
                name: "Import",
                table: "arrivals");

            migrationBuilder.DropColumn(
                name: "Life",
                table: "arrivals");

            migrationBuilder.CreateIndex(
                name: "IX_arrivals_Site_Node_Boot_Number",
                table: "arrivals",
                columns: new[] { "Site", "Node", "Boot", "Number" },
                unique: true);
        }
    }
}
