using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Cenotic.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class Calibrations : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "calibrations",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Site = table.Column<string>(type: "TEXT", nullable: false),
                    Node = table.Column<string>(type: "TEXT", nullable: false),
                    Reading = table.Column<string>(type: "TEXT", nullable: false),
                    ReadingId = table.Column<int>(type: "INTEGER", nullable: false),
                    FromMs = table.Column<long>(type: "INTEGER", nullable: false),
                    UntilMs = table.Column<long>(type: "INTEGER", nullable: true),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    Body = table.Column<string>(type: "TEXT", nullable: false),
                    Against = table.Column<string>(type: "TEXT", nullable: false),
                    Fitted = table.Column<string>(type: "TEXT", nullable: false),
                    DueMs = table.Column<long>(type: "INTEGER", nullable: true),
                    UndoneMs = table.Column<long>(type: "INTEGER", nullable: true),
                    UndoneBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_calibrations", x => x.Id);
                    table.ForeignKey(
                        name: "FK_calibrations_sites_Site",
                        column: x => x.Site,
                        principalTable: "sites",
                        principalColumn: "Key",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_calibrations_ReadingId",
                table: "calibrations",
                column: "ReadingId");

            migrationBuilder.CreateIndex(
                name: "IX_calibrations_Site_Node",
                table: "calibrations",
                columns: new[] { "Site", "Node" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "calibrations");
        }
    }
}
