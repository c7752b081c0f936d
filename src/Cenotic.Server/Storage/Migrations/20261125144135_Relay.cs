using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Cenotic.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class Relay : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "ClockMs",
                table: "arrivals",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "CorrectionMs",
                table: "arrivals",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "commands",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Output = table.Column<string>(type: "TEXT", nullable: false),
                    On = table.Column<bool>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    UntilMs = table.Column<long>(type: "INTEGER", nullable: false),
                    AnsweredMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Taken = table.Column<bool>(type: "INTEGER", nullable: true),
                    EndedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Ended = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_commands", x => x.Id);
                    table.ForeignKey(
                        name: "FK_commands_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "node_status",
                columns: table => new
                {
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Up = table.Column<bool>(type: "INTEGER", nullable: true),
                    UpMs = table.Column<long>(type: "INTEGER", nullable: true),
                    CorrectionMs = table.Column<long>(type: "INTEGER", nullable: true),
                    CorrectionAtMs = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_node_status", x => new { x.Site, x.Node });
                    table.ForeignKey(
                        name: "FK_node_status_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_commands_Site_Id",
                table: "commands",
                columns: new[] { "Site", "Id" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "commands");

            migrationBuilder.DropTable(
                name: "node_status");

            migrationBuilder.DropColumn(
                name: "ClockMs",
                table: "arrivals");

            migrationBuilder.DropColumn(
                name: "CorrectionMs",
                table: "arrivals");
        }
    }
}
